import { BenchScreen } from "../../../src/features/bench/BenchScreen.tsx";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <BenchScreen key={id} projectId={id} />;
}
