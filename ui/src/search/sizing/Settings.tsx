import { useProject } from "../../document/store";
import type { SizingRules } from "../../document/types";
import { Choice, Tick } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";
import type { Asked } from "./useSizing";

/** Services that cross the picked pipe: it passes over them or under them, with their clearance. */
function Crossings() {
  const { project, network, cursor, edit } = useProject();
  const id = cursor.element ?? "";
  const pipe = network?.links[id];
  if (!project || pipe?.kind !== "pipe") return null;
  const all = project.sizing.crossings;
  const half = (pipe.upstream_invert + pipe.downstream_invert) / 2;
  const first = { chainage: pipe.length / 2, bottom: half + 0.6, top: half + 0.75, clearance: 0.3 };
  return (
    <details className="pt-1" data-testid="crossings">
      <summary className="text-ink2">
        Services across {pipe.name}: {all.filter((one) => one.pipe === id).length || "none"}
      </summary>
      <Rows
        title="Levels, and clearance"
        columns={[
          { key: "chainage", label: "at", quantity: "length" },
          { key: "bottom", label: "bottom", quantity: "level" },
          { key: "top", label: "top", quantity: "level" },
          { key: "clearance", label: "clear", quantity: "length" },
        ]}
        rows={all.filter((one) => one.pipe === id)}
        commit={(rows) =>
          edit([
            {
              op: "replace",
              path: "/sizing/crossings",
              value: [
                ...all.filter((one) => one.pipe !== id),
                ...rows.map((row) => ({ ...Object.assign({}, first, row), pipe: id })),
              ],
            },
          ])
        }
      />
    </details>
  );
}

/** From which flow, from which catalogue, and within which limits pipes are sized; the limits are kept with the project. */
export function Settings({ asked, ask }: { asked: Asked; ask: (part: Partial<Asked>) => void }) {
  const { project, answer, edit } = useProject();
  if (!project) return null;
  const rules = project.sizing;
  const { limits } = rules;
  const set = (path: string) => (value: unknown) => edit([{ op: "add", path: `/sizing/${path}`, value }]);
  const keep = (field: keyof SizingRules["limits"]) => set(`limits/${field}`);
  const storms = (answer?.storms ?? []).filter((storm) => storm.state === "in");
  const materials = Object.fromEntries(project.catalogue.pipes.map(({ name }) => [name, name]));
  return (
    <>
      <Choice
        label="Flow from"
        value={asked.source ?? "rational"}
        options={{ rational: "rational method", storm: "peaks of a storm" }}
        commit={(source) => ask({ source: source as "rational", storm: storms[0]?.key ?? "" })}
        testId="sizing-source"
      />
      {asked.source === "storm" ? (
        <Choice
          label="Storm"
          value={asked.storm ?? ""}
          options={Object.fromEntries(storms.map((storm) => [storm.key, storm.label]))}
          commit={(storm) => ask({ storm })}
        />
      ) : (
        <>
          <NumberField
            label="Return period"
            value={asked.return_period ?? 5}
            quantity="years"
            commit={(return_period) => ask({ return_period })}
            testId="sizing-period"
          />
          <NumberField
            label="Allowance"
            value={asked.allowance ?? 0}
            quantity="share"
            commit={(allowance) => ask({ allowance })}
          />
          <NumberField
            label="Time of entry, least"
            value={rules.least_time}
            quantity="duration"
            commit={set("least_time")}
          />
        </>
      )}
      <Choice
        label="Catalogue"
        value={asked.material ?? ""}
        options={{ "": "each pipe's own", ...materials }}
        commit={(material) => ask({ material })}
        testId="sizing-material"
      />
      <p className="pt-2 font-semibold">Within</p>
      <NumberField
        label="Velocity, least"
        value={limits.min_velocity}
        quantity="speed"
        commit={keep("min_velocity")}
        testId="sizing-slow"
      />
      <NumberField
        label="Velocity, greatest"
        value={limits.max_velocity}
        quantity="speed"
        commit={keep("max_velocity")}
        testId="sizing-fast"
      />
      <NumberField
        label="Gradient, flattest"
        value={limits.min_gradient}
        quantity="gradient"
        commit={keep("min_gradient")}
      />
      <NumberField
        label="Gradient, steepest"
        value={limits.max_gradient}
        quantity="gradient"
        commit={keep("max_gradient")}
      />
      <NumberField
        label="Cover, least"
        value={limits.cover}
        quantity="length"
        commit={keep("cover")}
        testId="sizing-cover"
      />
      <NumberField label="Depth to invert" value={limits.deepest} quantity="length" commit={keep("deepest")} />
      <NumberField label="Drop at manholes" value={limits.drop} quantity="length" commit={keep("drop")} />
      <NumberField label="Of capacity used" value={limits.fill} quantity="share" commit={keep("fill")} />
      <Tick label="Never smaller downstream" value={limits.grows} commit={keep("grows")} />
      <Choice
        label="Level at manholes"
        value={limits.match}
        options={{ soffit: "soffits", invert: "inverts" }}
        commit={keep("match")}
      />
      <NumberField label="Raised there by" value={limits.step} quantity="length" commit={keep("step")} />
      <Crossings />
      <details className="pt-1">
        <summary className="text-ink2">Trenches and rates</summary>
        <NumberField label="Bedding" value={rules.bedding} quantity="length" commit={set("bedding")} />
        <Rows
          title="Trenches by depth"
          columns={[
            { key: "deepest", label: "to", quantity: "length" },
            { key: "beside", label: "wider by", quantity: "length" },
            { key: "side_slope", label: "slope", quantity: "slope" },
          ]}
          rows={rules.trench}
          commit={set("trench")}
        />
        <NumberField label="A m³ dug costs" value={rules.digging} quantity="plain" commit={set("digging")} />
        <Rows
          title="A m of pipe costs"
          columns={[
            { key: "diameter", label: "diameter", quantity: "diameter" },
            { key: "rate", label: "rate", quantity: "plain" },
          ]}
          rows={rules.laying}
          commit={set("laying")}
        />
      </details>
    </>
  );
}
