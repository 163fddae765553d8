import { type FormEvent, type ReactNode, useCallback, useEffect, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { Refusal } from "../../../components/messages/Refusal.tsx";
import { say } from "../../../components/messages/say.ts";
import type { Difference } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { forgetRefused, type RefusedVersion, refusedVersions } from "../../../store/project/unsaved.ts";
import { compareWithNow, goBackTo, keepNow, type VersionDifference } from "../../../store/project/versions.ts";
import {
  forgetVersion,
  keepVersion,
  listVersions,
  type Problem,
  ServerProblem,
  type Version,
} from "../../../store/server-api.ts";
import { hitCount } from "../commands/actions.ts";
import { showPicked } from "../commands/travel-actions.ts";

/** Versions of the take under names: keep what is there now, compare with it later, and go back. */
export function Versions({ onLeave }: { onLeave: () => void }) {
  const bench = useBench();
  const projectId = useBenchState((state) => state.project.id);
  const [versions, setVersions] = useState<readonly Version[] | null>(null);
  const [refused, setRefused] = useState<readonly RefusedVersion[]>([]);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [name, setName] = useState("");
  const attempt = useCallback(async (act: () => Promise<void>) => {
    try {
      setProblem(null);
      await act();
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
    }
  }, []);
  useEffect(() => {
    setRefused(refusedVersions(projectId));
    void attempt(async () => setVersions(await listVersions(projectId)));
  }, [projectId, attempt]);
  const letGo = (one: RefusedVersion) => {
    forgetRefused(one);
    setRefused(refusedVersions(projectId));
  };
  const goBack = (version: Pick<Version, "name">, difference: VersionDifference) => {
    goBackTo(bench, version, difference.pattern);
    say(`Back at “${version.name}”. Undo brings the rest again.`);
    onLeave();
  };
  const show = (difference: VersionDifference) => {
    bench.store.pick(new Set(difference.hits.map(({ hit }) => hit.id)));
    showPicked(bench);
    onLeave();
  };
  const keep = (event: FormEvent) => {
    event.preventDefault();
    void attempt(async () => {
      const version = await keepNow(bench, name.trim() || `Version ${(versions?.length ?? 0) + 1}`);
      setVersions([version, ...(versions ?? [])]);
      setName("");
    });
  };
  return (
    <section aria-label="Versions" className="mb-5">
      <form onSubmit={keep} className="flex items-center gap-2">
        <input
          aria-label="Name of the version"
          value={name}
          maxLength={200}
          placeholder="A name, such as: before the fills"
          className="min-w-0 flex-1 rounded-md border border-hairline-strong bg-paper px-2.5 py-1"
          onChange={(event) => setName(event.target.value)}
        />
        <Button type="submit">Keep this version</Button>
      </form>
      {problem && (
        <Refusal className="mt-2">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
      {versions?.length === 0 && refused.length === 0 && (
        <p className="mt-2 text-small text-muted">
          Nothing is kept under a name yet. A version can be compared with what comes later, and gone back to.
        </p>
      )}
      <ul className="mt-2">
        {refused.map((one) => (
          <VersionRow
            key={one.key}
            version={one}
            onGoBack={(difference) => goBack(one, difference)}
            onShow={show}
            onForget={() => letGo(one)}
            attempt={attempt}
          >
            <p className="text-small text-amber-text">
              In this browser alone: it could not be kept with the project. {one.reason}{" "}
              <button
                type="button"
                className={LINK}
                onClick={() =>
                  void attempt(async () => {
                    const { name, revision, entries } = one;
                    const version = await keepVersion(projectId, { name, revision, ...(entries && { entries }) });
                    setVersions([version, ...(versions ?? [])]);
                    letGo(one);
                  })
                }
              >
                Try again
              </button>
            </p>
          </VersionRow>
        ))}
        {versions?.map((version) => (
          <VersionRow
            key={version.id}
            version={version}
            onGoBack={(difference) => goBack(version, difference)}
            onShow={show}
            onForget={() =>
              void attempt(async () => {
                await forgetVersion(projectId, version.id);
                setVersions(versions.filter(({ id }) => id !== version.id));
              })
            }
            attempt={attempt}
          />
        ))}
      </ul>
    </section>
  );
}

const LINK = "font-semibold text-spruce underline disabled:no-underline disabled:opacity-50";

interface RowProps {
  readonly version: Omit<Version, "id">;
  readonly onGoBack: (difference: VersionDifference) => void;
  readonly onShow: (difference: VersionDifference) => void;
  readonly onForget: () => void;
  readonly attempt: (act: () => Promise<void>) => Promise<void>;
  /** What is to know of it besides. */
  readonly children?: ReactNode;
}

function VersionRow({ version, onGoBack, onShow, onForget, attempt, children }: RowProps) {
  const bench = useBench();
  const [difference, setDifference] = useState<VersionDifference | null>(null);
  useEffect(() => {
    void attempt(async () => setDifference(await compareWithNow(bench, version)));
  }, [attempt, bench, version]);
  const isSame = difference?.hits.length === 0 && difference.treatedVoiceIds.length === 0;
  const shown = difference?.hits.filter(({ how }) => !how.includes("removed")) ?? [];
  return (
    <li aria-label={version.name} className="border-t border-hairline py-1.5">
      <p className="flex items-baseline justify-between gap-3">
        <strong className="min-w-0 truncate">{version.name}</strong>
        {version.madeAt !== "" && (
          <time dateTime={version.madeAt} className="shrink-0 text-fine text-muted">
            {new Date(version.madeAt).toLocaleString("en", { dateStyle: "medium", timeStyle: "short" })}
          </time>
        )}
      </p>
      <p className="text-small text-muted">{difference ? differenceWords(difference) : "Comparing …"}</p>
      {children}
      <p className="flex gap-4 text-small">
        <button
          type="button"
          className={LINK}
          disabled={!difference || isSame}
          onClick={() => difference && onGoBack(difference)}
        >
          Go back to it
        </button>
        <button
          type="button"
          className={LINK}
          disabled={shown.length === 0}
          onClick={() => difference && onShow({ ...difference, hits: shown })}
        >
          Select what differs
        </button>
        <button type="button" className={LINK} onClick={onForget}>
          Forget it
        </button>
      </p>
    </li>
  );
}

const WORDS: Readonly<Record<Difference, string>> = {
  added: "added since",
  removed: "removed since",
  moved: "moved",
  loudness: "louder or softer",
  muted: "muted or not",
  length: "of another length",
  role: "of another role",
  swing: "swung more or less",
  chance: "played more or less often",
  "another drum": "on another drum",
};

function differenceWords(difference: VersionDifference): string {
  const { lostCount } = difference;
  if (lostCount === 0) return standing(difference);
  const changes = lostCount === 1 ? "1 of its changes is" : `${lostCount} of its changes are`;
  return `${standing(difference)} ${changes} to what is no longer there.`;
}

function standing({ hits, treatedVoiceIds }: VersionDifference): string {
  const parts = Object.entries(WORDS).flatMap(([how, words]) => {
    const count = hits.filter((one) => one.how.includes(how as Difference)).length;
    return count > 0 ? [`${count} ${words}`] : [];
  });
  const settings =
    treatedVoiceIds.length > 0
      ? [`the settings of ${treatedVoiceIds.length} ${treatedVoiceIds.length === 1 ? "voice" : "voices"}`]
      : [];
  if (parts.length === 0 && settings.length === 0) return "The same as now.";
  const inHits = hits.length > 0 ? [`${hitCount(hits.length)} differ: ${parts.join(", ")}`] : [];
  return `${[...inHits, ...settings].join("; and ")}.`;
}
