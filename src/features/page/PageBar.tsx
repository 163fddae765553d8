import { type ReactNode, useEffect } from "react";
import { type Screen, TopBar } from "../../components/page/TopBar.tsx";
import { closePageTools, usePageKeys } from "../../store/page/page-commands.ts";
import { PageKeys } from "./PageKeys.tsx";
import { PageSearch } from "./PageSearch.tsx";
import { KeysButton, SearchButton } from "./ToolButtons.tsx";

interface PageBarProps {
  readonly here: Screen;
  readonly projectId?: string | undefined;
  readonly children?: ReactNode;
}

/** The top bar of a page, with its search and the sheet of its keys. */
export function PageBar({ here, projectId, children }: PageBarProps) {
  usePageKeys();
  useEffect(() => closePageTools, []);
  return (
    <>
      <TopBar here={here} {...(projectId ? { projectId } : {})}>
        {children}
        <div className="flex items-center gap-0.5">
          <SearchButton hint="Find a screen, a take, or what this page does" />
          <KeysButton />
        </div>
      </TopBar>
      <PageSearch projectId={projectId} />
      <PageKeys projectId={projectId} />
    </>
  );
}
