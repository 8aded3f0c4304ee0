import { DropdownMenu } from "radix-ui";
import { useLocation, useNavigate } from "react-router";
import { useProject } from "../document/store";
import type { Sight } from "../document/types";
import { clock } from "../document/units";

/** Sights that were kept: one click brings stage, element, storm and moment back. */
export function Sights() {
  const { id, project, network, answer, cursor, view, edit, point, look } = useProject();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  if (!project) return null;
  const stage = pathname.split("/")[3] ?? "network";
  const { element, storm, rule } = cursor;
  const named = network?.nodes[element ?? ""] ?? network?.links[element ?? ""] ?? network?.catchments[element ?? ""];
  const keep = () => {
    const { moment } = useProject.getState();
    const label = answer?.storms.find((s) => s.key === storm)?.label;
    const name = [named?.name, label, label && clock(moment)].filter(Boolean).join(", ") || stage;
    const value: Sight = { name: name.slice(0, 80), stage, view, element, storm, moment, rule };
    void edit([{ op: "add", path: "/sights/-", value }]);
  };
  const show = (sight: Sight) => {
    navigate(`/p/${id}/${sight.stage}`);
    look(sight.view);
    const known = answer?.storms.some((s) => s.key === sight.storm);
    point({ element: sight.element, moment: sight.moment, rule: sight.rule, ...(known ? { storm: sight.storm } : {}) });
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="textlink" data-testid="sights">
        sights{project.sights.length ? ` ${project.sights.length}` : ""}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="z-50 min-w-64 border border-ink bg-hi py-1" align="start">
          <DropdownMenu.Item
            className="cursor-pointer px-3 py-[3px] font-semibold outline-none data-[highlighted]:bg-lo"
            onSelect={keep}
            data-testid="keep-sight"
          >
            keep this sight
          </DropdownMenu.Item>
          {project.sights.map((sight, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: kept in the order in which they came, without ids
            <div key={i} className="flex items-center">
              <DropdownMenu.Item
                className="min-w-0 flex-1 cursor-pointer truncate px-3 py-[3px] outline-none data-[highlighted]:bg-lo"
                onSelect={() => show(sight)}
                data-testid={`sight-${i}`}
              >
                {sight.name} <span className="text-ink3">{sight.stage}</span>
              </DropdownMenu.Item>
              <DropdownMenu.Item
                className="cursor-pointer px-2 text-ink3 outline-none data-[highlighted]:bg-lo"
                aria-label={`forget ${sight.name}`}
                onSelect={() => void edit([{ op: "remove", path: `/sights/${i}` }])}
              >
                ×
              </DropdownMenu.Item>
            </div>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
