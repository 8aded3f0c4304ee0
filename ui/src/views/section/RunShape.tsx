import { nextSize } from "../../document/catalogue";
import { type Change, useProject } from "../../document/store";
import { type Defaults, isConduit, type Network } from "../../document/types";
import { NumberField } from "../../primitives/NumberField";
import { setLevels } from "./setLevels";

/** Conduits of a run that follow one another around the picked one, or the picked ones where there are several. */
export function stretchOf(network: Network, path: string[], element: string | null, picked: ReadonlySet<string>) {
  const chosen = path.filter((id) => picked.has(id) && isConduit(network.links[id]));
  const inRow = chosen.every((id, i) => i === 0 || path.indexOf(id) === path.indexOf(chosen[i - 1] ?? "") + 1);
  if (chosen.length > 1 && inRow) return chosen;
  const found = path.findIndex(
    (id) => id === element || network.links[id]?.upstream === element || network.links[id]?.downstream === element,
  );
  const open = (i: number) => isConduit(network.links[path[i] ?? ""]);
  let at = Math.max(found, 0);
  while (at < path.length && !open(at)) at++;
  let [from, to] = [at, at];
  while (from > 0 && open(from - 1)) from--;
  while (to < path.length && open(to)) to++;
  return path.slice(from, to);
}

/** Levels and sizes of several conduits at once. */
export function RunShape({ path }: { path: string[] }) {
  const { network, project, cursor, picked, optionPath, edit } = useProject();
  if (!network || !project) return null;
  const run = stretchOf(network, path, cursor.element, picked);
  const [first, last] = [network.links[run[0] ?? ""], network.links[run.at(-1) ?? ""]];
  if (!first || !last) return <p className="text-ink3">No pipes on this run.</p>;
  const { gradient, cover } = project.defaults;
  const keep = (field: keyof Defaults, value: number) => void edit([{ op: "add", path: `/defaults/${field}`, value }]);
  const size = (way: 1 | -1) => {
    const changes = run.flatMap((id): Change[] => {
      const link = network.links[id];
      const next = link?.kind === "pipe" ? nextSize(project.catalogue, link, way) : null;
      return next === null ? [] : [{ op: "replace", path: `${optionPath}/links/${id}/section/diameter`, value: next }];
    });
    if (changes.length) void edit(changes);
  };
  const button = (label: string, hint: string, testId: string, act: () => void) => (
    <button
      type="button"
      className="border border-rule2 px-2 py-1 text-left"
      title={hint}
      onClick={act}
      data-testid={testId}
    >
      {label}
    </button>
  );
  return (
    <div className="flex flex-col gap-2">
      <p>
        <b className="font-semibold">
          {network.nodes[first.upstream]?.name} to {network.nodes[last.downstream]?.name}
        </b>{" "}
        <span className="text-ink3">
          {run.length} conduit{run.length > 1 ? "s" : ""}; pick several for a part of the run
        </span>
      </p>
      <NumberField
        label="Fall 1 in"
        value={1 / gradient}
        quantity="count"
        commit={(value) => value > 0 && keep("gradient", 1 / value)}
        testId="shape-gradient"
      />
      <NumberField
        label="Cover at least"
        value={cover}
        quantity="length"
        commit={(value) => keep("cover", value)}
        testId="shape-cover"
      />
      <p className="grid grid-cols-2 gap-2">
        {button("One gradient", "from the invert at the head of the run", "shape-by-gradient", () =>
          setLevels(run, { how: "gradient", gradient }),
        )}
        {button("Keep the cover", "the gradient, or steeper where the ground would be too thin", "shape-by-cover", () =>
          setLevels(run, { how: "cover", gradient, cover: cover }),
        )}
        {button("Match soffits", "each soffit meets the one that arrives; gradients stay", "shape-by-soffits", () =>
          setLevels(run, { how: "soffits" }),
        )}
        {button(
          "Make losses good",
          "what arrives at a manhole is raised by its head loss at full bore; the foot stays",
          "shape-by-losses",
          () => setLevels(run, { how: "losses" }),
        )}
        {button("A size up", "every pipe, by the catalogue", "size-up", () => size(1))}
        {button("A size down", "every pipe, by the catalogue", "size-down", () => size(-1))}
      </p>
    </div>
  );
}
