import { useState } from "react";
import { useProject } from "../../document/store";
import { KeptMenu } from "../../primitives/KeptMenu";
import { NameForm } from "../../primitives/NameForm";

/** Graphs that were kept under a name; one click draws them again. */
export function KeptGraphs({ elements, suggested }: { elements: string[]; suggested: string }) {
  const { project, network, graph, edit, pickAll, drawGraph } = useProject();
  const [naming, setNaming] = useState(false);
  if (!project || !network) return null;
  if (naming)
    return (
      <NameForm
        suggested={suggested}
        label="name of the graph"
        keep={(name) => void edit([{ op: "add", path: "/graphs/-", value: { name, elements, ...graph } }])}
        leave={() => setNaming(false)}
        testId="graph-name"
      />
    );
  return (
    <KeptMenu
      label="kept"
      keepLabel="keep this graph"
      keep={elements.length > 0 ? () => setNaming(true) : null}
      items={project.graphs}
      show={(place) => {
        const kept = project.graphs[place];
        if (!kept) return;
        pickAll(kept.elements.filter((id) => network.nodes[id] || network.links[id]));
        const { quantities, storms, against, title } = kept;
        drawGraph({ quantities, storms, against, title });
      }}
      forget={(place) => void edit([{ op: "remove", path: `/graphs/${place}` }])}
      testId="kept-graphs"
      itemTestId="graph"
    />
  );
}
