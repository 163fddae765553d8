import { PageLink } from "../../components/page/PageLink.tsx";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";

/** Whose settings are shown and changed: those of the take, or what one pattern of the song has of its own. */
export function ScopeChoice() {
  const { store } = useBench();
  const projectId = useBenchState((state) => state.project.id);
  const patterns = useBenchState((state) => state.pattern.arrangement?.patterns);
  const scopeId = useBenchState((state) => state.scopeId);
  if (!patterns?.length) return null;
  const take = { id: "take", name: "the whole take" } as const;
  return (
    <p className="mb-2 rounded-lg border border-hairline-strong px-3 py-1.5 text-small">
      Settings of{" "}
      <OneOf
        label="Settings of"
        chosenId={scopeId ?? take.id}
        choices={[take, ...patterns.map(({ id, name }) => ({ id, name }))]}
        onChoose={(id) => store.setScope(id === take.id ? null : id)}
      />
      {scopeId === null ? (
        <>, which its {patterns.length} patterns follow.</>
      ) : (
        <>
          {" "}
          alone. Its bars are looped; outside them you see the take.{" "}
          <PageLink href={`/song/${projectId}`} className="font-bold text-spruce underline">
            The song
          </PageLink>
        </>
      )}
    </p>
  );
}
