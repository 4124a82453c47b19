import { NavLink } from "react-router";
import { useStudy } from "../state/study.ts";

/** The surfaces of the Build stage, as small tabs under the bar. */
export function Surfaces() {
  const id = useStudy((s) => s.id);
  return (
    <nav aria-label="Surfaces of Build" className="flex shrink-0 gap-1 border-b border-line bg-sheet px-4">
      {(
        [
          ["Floor", "build"],
          ["Procedures", "build/procedures"],
          ["Tables", "build/tables"],
          ["Calendars", "build/calendars"],
          ["Random sources", "build/sources"],
        ] as const
      ).map(([label, path]) => (
        <NavLink
          key={path}
          end
          to={`/study/${id}/${path}`}
          className={({ isActive }) =>
            `border-b-2 px-2 py-1 ${isActive ? "border-action font-medium text-ink" : "border-transparent text-soft hover:text-ink"}`
          }
        >
          {label}
        </NavLink>
      ))}
    </nav>
  );
}
