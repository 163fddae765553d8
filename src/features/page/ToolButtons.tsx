import { CircleHelp, Search } from "lucide-react";
import { Hint } from "../../components/Hint.tsx";
import { openKeys, openSearch, SHARED_COMMANDS } from "../../store/page/page-commands.ts";
import { useKeyOf } from "./use-key-of.ts";

const BUTTON = "rounded-md p-1.5 text-muted hover:text-ink";

/** What every page has a button for: its search and its keys. */
export function SearchButton({ hint }: { hint: string }) {
  return (
    <Hint text={hint} keys={useKeyOf(SHARED_COMMANDS.search)}>
      <button type="button" aria-label="Search" className={BUTTON} onClick={openSearch}>
        <Search size={17} />
      </button>
    </Hint>
  );
}

export function KeysButton() {
  return (
    <Hint text="All keys" keys={useKeyOf(SHARED_COMMANDS.keys)}>
      <button type="button" aria-label="All keys" className={BUTTON} onClick={openKeys}>
        <CircleHelp size={17} />
      </button>
    </Hint>
  );
}
