import { useQuery } from "@tanstack/react-query";
import { counted } from "../../core/ordinal.ts";
import { listRemovedProjects, type RemovedProject } from "../../store/server-api.ts";

interface RemovedProjectsProps {
  readonly onPutBack: (project: RemovedProject) => void;
}

/** What was deleted, at the foot of the shelf: a project that is deleted is only put away. */
export function RemovedProjects({ onPutBack }: RemovedProjectsProps) {
  const { data: removed = [] } = useQuery({ queryKey: ["removed"], queryFn: listRemovedProjects, retry: false });
  if (removed.length === 0) return null;
  return (
    <details className="mt-5">
      <summary className="text-small text-muted">{counted(removed.length, "deleted project")}</summary>
      <ul aria-label="Deleted projects" className="mt-1.5">
        {removed.map((project) => (
          <li key={project.id} className="flex flex-wrap items-baseline gap-x-3 border-t border-hairline py-1.5">
            <strong className="min-w-0 truncate">{project.name}</strong>
            <span className="text-small text-muted">
              deleted {new Date(project.removedAt).toLocaleDateString("en", { day: "numeric", month: "long" })}
            </span>
            <button
              type="button"
              aria-label={`Put back ${project.name}`}
              className="ml-auto font-semibold text-spruce underline"
              onClick={() => onPutBack(project)}
            >
              Put back
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
