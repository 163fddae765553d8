"use client";

import { PageFault } from "../src/components/page/PageFault.tsx";

/** In place of a page that could not go on. What went wrong is in the browser's log. */
export default function ErrorPage({ error, reset }: { error: Error; reset: () => void }) {
  return <PageFault error={error} onAgain={reset} />;
}
