import { useProject } from "../../document/store";
import { type Quantity, show, unitOf } from "../../document/units";
import type { Design, Laid } from "./useSizing";

/** In which quantity a limit is read. */
export const LIMITS: Record<string, { word: string; quantity: Quantity }> = {
  capacity: { word: "capacity", quantity: "flow" },
  velocity: { word: "velocity", quantity: "speed" },
  gradient: { word: "gradient", quantity: "gradient" },
  cover: { word: "cover", quantity: "length" },
  depth: { word: "depth", quantity: "length" },
  drop: { word: "drop", quantity: "length" },
  level: { word: "level", quantity: "length" },
  outfall: { word: "lowest level", quantity: "level" },
  diameter: { word: "diameter", quantity: "diameter" },
  crossing: { word: "soffit under a service", quantity: "level" },
};

const LOCKS = { diameter: "size", upstream: "upper level", downstream: "lower level" } as const;

/** Every pipe that is sized: as it lies, struck, and as it would be laid; what of it is locked, and what is not met. */
export function DesignTable({ order, before, after }: { order: string[]; before: Design; after: Design }) {
  const { network, project, cursor, point, edit } = useProject();
  if (!network || !project) return null;
  const pair = (a: number | undefined, b: number | undefined, quantity: Quantity, digits?: number) => {
    const [was, is] = [show(a, quantity, digits), show(b, quantity, digits)];
    return (
      <td className="figure whitespace-nowrap px-2 text-right">
        {was !== is && <s className="pr-1 text-[11px] text-ink3">{was}</s>}
        <b className={was === is ? "font-normal" : "font-semibold"}>{is}</b>
      </td>
    );
  };
  const used = (pipe: Laid | undefined) => (pipe && pipe.capacity > 0 ? pipe.flow / pipe.capacity : undefined);
  const lock = (id: string, part: keyof typeof LOCKS) => {
    const now = project.sizing.locks[id] ?? { diameter: false, upstream: false, downstream: false };
    void edit([{ op: "add", path: `/sizing/locks/${id}`, value: { ...now, [part]: !now[part] } }]);
  };
  return (
    <table className="w-full" data-testid="sizing-table">
      <thead>
        <tr className="border-b border-ink text-[11px] text-ink2">
          <th className="py-1 text-left font-normal">pipe</th>
          <th className="px-2 text-right font-normal">diameter {unitOf("diameter")}</th>
          <th className="px-2 text-right font-normal">gradient</th>
          <th className="px-2 text-right font-normal">upper invert {unitOf("level")}</th>
          <th className="px-2 text-right font-normal">cover {unitOf("length")}</th>
          <th className="px-2 text-right font-normal">full {unitOf("speed")}</th>
          <th className="px-2 text-right font-normal">flow {unitOf("flow")}</th>
          <th className="px-2 text-right font-normal">of capacity</th>
          <th className="px-2 text-left font-normal">locked</th>
          <th className="px-2 text-left font-normal">not met</th>
        </tr>
      </thead>
      <tbody>
        {order.map((id) => {
          const [was, is] = [before.pipes[id], after.pipes[id]];
          const name = network.links[id]?.name ?? "";
          const broken = after.unmet.filter((one) => one.pipe === id && one.reason === null);
          const locks = project.sizing.locks[id];
          return (
            <tr key={id} className={`border-b border-rule ${cursor.element === id ? "bg-hi" : ""}`}>
              <td className="py-[2px]">
                <button type="button" className="font-semibold" onClick={() => point({ element: id })}>
                  {name}
                </button>
              </td>
              {pair(was?.diameter, is?.diameter, "diameter")}
              {pair(was?.gradient, is?.gradient, "gradient")}
              {pair(was?.upstream, is?.upstream, "level")}
              {pair(was && Math.min(...was.cover), is && Math.min(...is.cover), "length")}
              {pair(was?.velocity, is?.velocity, "speed")}
              {pair(was?.flow, is?.flow, "flow")}
              {pair(used(was), used(is), "plain")}
              <td className="whitespace-nowrap px-2">
                {(Object.keys(LOCKS) as (keyof typeof LOCKS)[]).map((part) => (
                  <button
                    key={part}
                    type="button"
                    aria-pressed={!!locks?.[part]}
                    aria-label={`lock the ${LOCKS[part]} of ${name}`}
                    title={`lock the ${LOCKS[part]} as it is`}
                    className={`mr-1 px-1 text-[10.5px] ${locks?.[part] ? "bg-ink text-hi" : "border border-rule2 text-ink3"}`}
                    onClick={() => lock(id, part)}
                    data-testid={`lock-${part}-${name}`}
                  >
                    {{ diameter: "Ø", upstream: "up", downstream: "low" }[part]}
                  </button>
                ))}
              </td>
              <td className="px-2 text-[11px] leading-[13px] text-madder">
                {broken.map((one) => {
                  const { word, quantity } = LIMITS[one.limit] ?? { word: one.limit, quantity: "length" as const };
                  return (
                    <span key={one.limit} className="block" title={one.why}>
                      {word} {show(one.value, quantity)} against {show(one.allowed, quantity)}
                    </span>
                  );
                })}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
