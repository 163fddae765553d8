// biome-ignore lint/style/noRestrictedImports: This is the one place.
import Link from "next/link";
import type { ComponentProps } from "react";

/**
 * A link to another page. What it leads to is fetched when it is followed: a shelf has hundreds of links, and fetching what they lead to
 * beforehand kept the server and the page busy while a file was coming in.
 */
export function PageLink(props: ComponentProps<typeof Link>) {
  return <Link {...props} prefetch={false} />;
}
