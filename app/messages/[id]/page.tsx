import { MessagesScreen } from "../../../src/features/messages/MessagesScreen.tsx";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <MessagesScreen key={id} projectId={id} />;
}
