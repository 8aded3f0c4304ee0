import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { keepPicture } from "../document/pictures";
import { useProject } from "../document/store";
import type { SavedView } from "../document/types";
import { clock } from "../document/units";
import { KeptMenu } from "../primitives/KeptMenu";
import { NameForm } from "../primitives/NameForm";

/** Saved views: one click brings option, stage, element, storm and moment back. */
export function SavedViews() {
  const { id, project, option, network, answer, cursor, view, edit, point, look, showOption } = useProject();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const [naming, setNaming] = useState<string | null>(null);
  if (!project) return null;
  const stage = (pathname.split("/")[3] ?? "network") as SavedView["stage"];
  const { element, storm, rule } = cursor;
  const named = network?.nodes[element ?? ""] ?? network?.links[element ?? ""] ?? network?.catchments[element ?? ""];
  const label = answer?.storms.find((s) => s.key === storm)?.label;
  const suggested = () => {
    const { moment } = useProject.getState();
    return [named?.name, label, label && clock(moment)].filter(Boolean).join(", ").slice(0, 80) || stage;
  };
  const keep = async (name: string) => {
    const { moment, planLook: plan, extent, eye } = useProject.getState();
    const picture = view === "3d" && stage === "network" ? await drawn() : null;
    const value: SavedView = { name, option, stage, view, element, storm, moment, rule, plan, extent, eye, picture };
    void edit([{ op: "add", path: "/saved_views/-", value }]);
  };
  /** What is seen in 3D, for the report: no server draws it. Null where this browser cannot, and the view is kept all the same. */
  const drawn = async (): Promise<SavedView["picture"]> => {
    const { portrait, say } = useProject.getState();
    if (!portrait || !id) return null;
    try {
      const { picture, inputs, storm } = await portrait();
      return { file: await keepPicture(id, picture), inputs, storm };
    } catch (error) {
      say(error);
      return null;
    }
  };
  const show = (saved: SavedView) => {
    if (saved.option !== option) void showOption(saved.option);
    navigate(`/p/${id}/${saved.stage}`);
    look(saved.view);
    useProject.setState({ planLook: saved.plan, wanted: { extent: saved.extent, eye: saved.eye } });
    const known = answer?.storms.some((s) => s.key === saved.storm);
    point({ element: saved.element, moment: saved.moment, rule: saved.rule, ...(known ? { storm: saved.storm } : {}) });
  };
  const note = (saved: SavedView) =>
    saved.option === option ? saved.stage : `${saved.stage}, option ${project.options[saved.option]?.name ?? "gone"}`;
  if (naming !== null)
    return (
      <NameForm
        suggested={naming}
        label="name of the view"
        keep={(name) => void keep(name)}
        leave={() => setNaming(null)}
        testId="view-name"
      />
    );
  return (
    <KeptMenu
      label="saved views"
      keepLabel="save this view"
      keep={() => setNaming(suggested())}
      items={project.saved_views.map((saved) => ({ name: saved.name, note: note(saved) }))}
      show={(place) => {
        const saved = project.saved_views[place];
        if (saved) show(saved);
      }}
      forget={(place) => void edit([{ op: "remove", path: `/saved_views/${place}` }])}
      testId="saved-views"
      itemTestId="saved-view"
    />
  );
}
