import { useRouter } from "next/navigation";
import { AlertDialog } from "radix-ui";
import { useEffect, useState } from "react";
import { Button } from "../Button.tsx";

interface LeaveGuardProps {
  /** Whether what is not saved is kept by the browser. */
  readonly isKeptHere: boolean;
  readonly hasUnsaved: () => boolean;
  readonly whenSaved: (patienceMs: number) => Promise<boolean>;
}

/** So long a link waits for what is being saved before it asks. */
const PATIENCE_MS = 2000;

/** A link of the page's own waits for what is being saved, and asks if that cannot be saved now. */
export function LeaveGuard({ isKeptHere, hasUnsaved, whenSaved }: LeaveGuardProps) {
  const router = useRouter();
  const [askedFor, setAskedFor] = useState<string | null>(null);
  useEffect(() => {
    const click = (event: MouseEvent) => {
      const address = addressOf(event);
      if (address === null || !hasUnsaved()) return;
      event.preventDefault();
      event.stopPropagation();
      void whenSaved(PATIENCE_MS).then((isSaved) => {
        if (isSaved) router.push(address);
        else setAskedFor(address);
      });
    };
    // Before the link itself hears of it.
    window.addEventListener("click", click, { capture: true });
    return () => window.removeEventListener("click", click, { capture: true });
  }, [hasUnsaved, whenSaved, router]);
  return (
    <AlertDialog.Root open={askedFor !== null} onOpenChange={(isOpen) => !isOpen && setAskedFor(null)}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
        <AlertDialog.Content className="fixed top-1/2 left-1/2 z-40 w-[min(480px,92vw)] -translate-x-1/2 -translate-y-1/2 rounded-xl border border-hairline-strong bg-sheet p-6 shadow-xl">
          <AlertDialog.Title className="text-title font-bold">Leave before everything is saved?</AlertDialog.Title>
          <AlertDialog.Description className="mt-1.5 text-muted">
            The last changes could not be saved yet.{" "}
            {isKeptHere
              ? "They are kept in this browser, and are saved when the project is opened here again."
              : "The browser has no room to keep them: if you leave, they are lost."}
          </AlertDialog.Description>
          <div className="mt-5 flex justify-end gap-3">
            <AlertDialog.Action asChild>
              <Button onClick={() => askedFor !== null && router.push(askedFor)}>Leave</Button>
            </AlertDialog.Action>
            <AlertDialog.Cancel asChild>
              <Button kind="main">Stay</Button>
            </AlertDialog.Cancel>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}

/** Where a click leads within the application; null if it leads nowhere, elsewhere, or into another window. */
function addressOf(event: MouseEvent): string | null {
  if (event.button !== 0 || event.ctrlKey || event.metaKey || event.shiftKey || event.altKey) return null;
  const link = event.target instanceof Element ? event.target.closest("a") : null;
  if (!link?.href || link.target || link.hasAttribute("download")) return null;
  const { origin, pathname, search } = new URL(link.href);
  if (origin !== location.origin || pathname.startsWith("/api/") || pathname === location.pathname) return null;
  return pathname + search;
}
