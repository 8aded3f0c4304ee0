import { useLocation, useNavigate } from "react-router";
import { useProject } from "../document/store";
import type { Sight } from "../document/types";
import { clock } from "../document/units";
import { KeptMenu } from "../primitives/KeptMenu";

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
    <KeptMenu
      label="sights"
      keepLabel="keep this sight"
      keep={keep}
      items={project.sights.map(({ name, stage }) => ({ name, note: stage }))}
      show={(place) => {
        const sight = project.sights[place];
        if (sight) show(sight);
      }}
      forget={(place) => void edit([{ op: "remove", path: `/sights/${place}` }])}
      testId="sights"
      itemTestId="sight"
    />
  );
}
