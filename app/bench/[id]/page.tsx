import { preload } from "react-dom";
import { projectPath } from "../../../src/api/wire.ts";
import { BenchScreen } from "../../../src/features/bench/BenchScreen.tsx";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  // The take is on its way while the page's script is still being read.
  preload(projectPath(id), { as: "fetch", crossOrigin: "anonymous" });
  return <BenchScreen key={id} projectId={id} />;
}
