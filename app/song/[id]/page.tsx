import { SongScreen } from "../../../src/features/song/SongScreen.tsx";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <SongScreen projectId={id} />;
}
