import type { ReactNode } from "react";
import { Button } from "../Button.tsx";

// Every page loads this with its script, so there is hardly anything in it. The links load their page anew, on purpose.

function Page({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className="m-auto flex min-h-screen max-w-[480px] flex-col justify-center gap-3 px-6">
      <h1 className="text-head font-bold">{title}</h1>
      {children}
      <a href="/" className="font-semibold text-spruce underline">
        To the shelf
      </a>
    </main>
  );
}

/** What stands in place of a page that could not go on. */
export function PageFault({ error, onAgain }: { error: Error; onAgain: () => void }) {
  const isAway = error.name === "ChunkLoadError";
  return (
    <Page title={isAway ? "The server does not answer" : "This page tripped over something"}>
      <p role="alert">
        {isAway
          ? "A part of this page could not be fetched. What you did is kept. Try again when the server runs."
          : "What you did is saved as you go; the last change may be missing. Try again. If it trips once more, load the page anew."}
      </p>
      <p>
        <Button onClick={onAgain}>Try again</Button>
      </p>
    </Page>
  );
}

export function NoSuchPage() {
  return (
    <Page title="There is no such page">
      <p>It may have been another project, or a word is missing in the address.</p>
    </Page>
  );
}
