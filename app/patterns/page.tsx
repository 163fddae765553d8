export const dynamic = "force-dynamic";

import { toLastProject } from "../last-project.ts";

export default function Page() {
  toLastProject("patterns");
}
