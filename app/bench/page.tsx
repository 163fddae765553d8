export const dynamic = "force-dynamic";

import { toLastProject } from "../last-project.ts";

type Query = Readonly<Record<string, string | readonly string[] | undefined>>;

export default async function Page({ searchParams }: { searchParams: Promise<Query> }) {
  const { find, keys } = await searchParams;
  toLastProject("bench", {
    ...(typeof find === "string" ? { find } : {}),
    ...(keys !== undefined ? { keys: "" } : {}),
  });
}
