import { NoSuchPage } from "../src/components/page/PageFault.tsx";

export default function NotFound() {
  return <NoSuchPage />;
}
