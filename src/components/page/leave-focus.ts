/**
 * For what closes: the focus stays where the next menu or sheet has it already. A menu that was opened in the moment in which another
 * closed would lose the focus to what the other came from, and close with it.
 */
export function leaveFocus(event: Event): void {
  if (document.activeElement?.closest("[role=menu], [role=dialog]")) event.preventDefault();
}
