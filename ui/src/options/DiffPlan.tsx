import { courseOf } from "../document/course";
import { useProject } from "../document/store";
import { isStore, type Network } from "../document/types";
import type { Compared } from "./compared";

const [WIDE, HIGH] = [230, 120];

/** A small plan of an option: what differs from the base in ink, what is the same faded, what it lacks dashed. */
export function DiffPlan({ of, base }: { of: Compared; base: Compared }) {
  const project = useProject((s) => s.project);
  const [own, first] = [project?.options[of.option]?.network, project?.options[base.option]?.network];
  if (!own || !first) return null;
  const places = [...Object.values(own.nodes), ...Object.values(first.nodes)];
  if (places.length === 0) return null;
  const [xs, ys] = [places.map((node) => node.x), places.map((node) => node.y)];
  const [west, north] = [Math.min(...xs), Math.max(...ys)];
  const span = Math.max((Math.max(...xs) - west) / (WIDE - 16), (north - Math.min(...ys)) / (HIGH - 16), 0.01);
  const at = ([x, y]: [number, number]) => [8 + (x - west) / span, 8 + (north - y) / span];
  const what = new Map(of.differences.map((one) => [one.element, one.what]));
  const line = (network: Network, id: string, dash = "") => {
    const link = network.links[id];
    if (!link) return null;
    const differs = what.has(id);
    return (
      <polyline
        key={id}
        points={courseOf(network, link)
          .map((place) =>
            at(place)
              .map((v) => v.toFixed(1))
              .join(","),
          )
          .join(" ")}
        fill="none"
        stroke={differs ? "var(--color-ink)" : "var(--color-water2)"}
        strokeWidth={differs ? 3 : 1.6}
        strokeDasharray={dash}
      />
    );
  };
  const gone = of.differences.filter((one) => one.what === "removed" && one.group === "links");
  return (
    <svg
      width={WIDE}
      height={HIGH}
      role="img"
      aria-label={`plan of ${of.name}: ${of.differences.length} elements differ`}
    >
      {Object.keys(own.links).map((id) => line(own, id))}
      {gone.map(({ element }) => line(first, element, "3 3"))}
      {Object.entries(own.nodes).map(([id, node]) => {
        const [x = 0, y = 0] = at([node.x, node.y]);
        const differs = what.has(id);
        const store = isStore(node);
        if (!differs && !store && node.kind !== "outfall") return null;
        return (
          <circle
            key={id}
            cx={x}
            cy={y}
            r={store ? 6 : 3}
            fill={differs ? "var(--color-ink)" : store ? "var(--color-water2)" : "var(--color-hi)"}
            stroke={differs ? "var(--color-ink)" : "var(--color-ink3)"}
          />
        );
      })}
    </svg>
  );
}
