import { GroovesScreen } from "../../../src/features/grooves/GroovesScreen.tsx";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <GroovesScreen projectId={id} />;
}
