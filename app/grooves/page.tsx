import { GroovesScreen } from "../../src/features/grooves/GroovesScreen.tsx";

export default function Page() {
  return <GroovesScreen />;
}
