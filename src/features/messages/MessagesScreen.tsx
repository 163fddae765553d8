"use client";

import { useSearchParams } from "next/navigation";
import { ProblemNote } from "../../components/messages/ProblemNote.tsx";
import { OpeningProject } from "../../components/page/OpeningProject.tsx";
import { BenchContext, useProjectActions } from "../../store/bench/bench-context.ts";
import { type TakeReading, useMessages, useTakeReading } from "../../store/project/use-messages.ts";
import { useOpenBench } from "../../store/project/use-open-bench.ts";
import { PageBar } from "../page/PageBar.tsx";
import { ProjectActions } from "../page/ProjectActions.tsx";
import { MessageList } from "./MessageList.tsx";

/** The screen that lists every message of a take. */
export function MessagesScreen({ projectId }: { projectId: string }) {
  const reading = useTakeReading(projectId);
  const opening = useOpenBench(projectId, false, reading.alongside);
  const { bench } = opening;
  if (!bench) return <OpeningProject here="Messages" {...opening} />;
  return (
    <BenchContext value={bench}>
      <div className="flex h-screen flex-col overflow-hidden max-lg:h-auto max-lg:overflow-visible">
        <PageBar here="Messages" projectId={projectId}>
          <Actions />
        </PageBar>
        <Listed reading={reading} />
      </div>
    </BenchContext>
  );
}

const Actions = () => <ProjectActions {...useProjectActions()} />;

function Listed({ reading }: { reading: TakeReading }) {
  const messages = useMessages(reading);
  const wantedId = useSearchParams().get("hit");
  if (messages.problem) {
    return (
      <div className="m-auto w-[min(560px,90vw)]">
        <ProblemNote title="The messages could not be listed" problem={messages.problem} />
      </div>
    );
  }
  if (!messages.table) {
    return (
      <p role="status" className="m-auto text-muted">
        Listing the messages of the take…
      </p>
    );
  }
  return <MessageList messages={messages} table={messages.table} wantedId={wantedId} />;
}
