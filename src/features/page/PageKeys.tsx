import { useStore } from "zustand";
import { PageLink } from "../../components/page/PageLink.tsx";
import { isShared, pageCommands, pageTools } from "../../store/page/page-commands.ts";
import { KeySheet } from "./KeySheet.tsx";

/** The keys of a page. Those that all screens share are changed where most of them are: on the Bench. */
export function PageKeys({ projectId }: { projectId: string | undefined }) {
  const tools = useStore(pageTools);
  if (!tools.areKeysOpen) return null;
  const commands = pageCommands(tools);
  return (
    <KeySheet
      groups={[
        { name: "On this page", keyed: commands.filter((one) => !isShared(one)) },
        { name: "On all screens", keyed: commands.filter(isShared), isFixed: true },
      ]}
    >
      <p className="text-small text-muted">
        Keys of all screens are changed on the{" "}
        <PageLink
          href={`/bench${projectId ? `/${projectId}` : ""}?keys`}
          className="font-semibold text-spruce underline"
        >
          Bench
        </PageLink>
        .
      </p>
    </KeySheet>
  );
}
