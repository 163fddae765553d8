import { MapsScreen } from "../../../src/features/notemaps/MapsScreen.tsx";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <MapsScreen key={id} projectId={id} />;
}
