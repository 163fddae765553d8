import { NoSuchPage } from "../src/components/PageFault.tsx";

export default function NotFound() {
  return <NoSuchPage />;
}
