import { PatternsScreen } from "../../../src/features/patterns/PatternsScreen.tsx";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <PatternsScreen projectId={id} />;
}
