import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { useProject } from "../document/store";
import type { Sight } from "../document/types";
import { clock } from "../document/units";
import { KeptMenu } from "../primitives/KeptMenu";
import { NameForm } from "../primitives/NameForm";

/** Sights that were kept: one click brings stage, element, storm and moment back. */
export function Sights() {
  const { id, project, network, answer, cursor, view, edit, point, look } = useProject();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const [naming, setNaming] = useState<string | null>(null);
  if (!project) return null;
  const stage = pathname.split("/")[3] ?? "network";
  const { element, storm, rule } = cursor;
  const named = network?.nodes[element ?? ""] ?? network?.links[element ?? ""] ?? network?.catchments[element ?? ""];
  const label = answer?.storms.find((s) => s.key === storm)?.label;
  const suggested = () => {
    const { moment } = useProject.getState();
    return [named?.name, label, label && clock(moment)].filter(Boolean).join(", ").slice(0, 80) || stage;
  };
  const keep = (name: string) => {
    const { moment } = useProject.getState();
    const value: Sight = { name, stage, view, element, storm, moment, rule };
    void edit([{ op: "add", path: "/sights/-", value }]);
  };
  const show = (sight: Sight) => {
    navigate(`/p/${id}/${sight.stage}`);
    look(sight.view);
    const known = answer?.storms.some((s) => s.key === sight.storm);
    point({ element: sight.element, moment: sight.moment, rule: sight.rule, ...(known ? { storm: sight.storm } : {}) });
  };
  if (naming !== null)
    return (
      <NameForm
        suggested={naming}
        label="name of the sight"
        keep={keep}
        leave={() => setNaming(null)}
        testId="sight-name"
      />
    );
  return (
    <KeptMenu
      label="sights"
      keepLabel="keep this sight"
      keep={() => setNaming(suggested())}
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
