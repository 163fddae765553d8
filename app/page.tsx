import { ShelfScreen } from "../src/features/shelf/ShelfScreen.tsx";

export default function Page() {
  return <ShelfScreen />;
}
