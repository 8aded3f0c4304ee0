import type { Listed } from "../api/client";

/** A small plan, by which a project is known in the list. */
export function Thumbnail({ picture, name }: { picture: Listed["picture"]; name: string }) {
  const places = [...picture.nodes, ...picture.stores, ...picture.links.flat()];
  if (places.length === 0) return <Empty />;
  const xs = places.map(([x]) => x);
  const ys = places.map(([, y]) => y);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const span = Math.max((x1 - x0) / 270, (y1 - y0) / 100, 0.01);
  const at = (x: number, y: number): [number, number] => [5 + (x - x0) / span, 105 - (y - y0) / span];
  const outline = (points: [number, number][]) => points.map(([x, y]) => at(x, y).join(",")).join(" ");
  const dot = ([x, y]: [number, number], store: boolean) => {
    const [px, py] = at(x, y);
    return (
      <circle
        key={`${x} ${y}`}
        cx={px}
        cy={py}
        r={store ? 7 : 2.4}
        fill={store ? "var(--color-water2)" : "var(--color-hi)"}
        stroke="var(--color-ink)"
      />
    );
  };
  return (
    <svg viewBox="0 0 280 110" className="my-2 h-[110px] w-full" role="img" aria-label={`plan of ${name}`}>
      {picture.water.map((points) => (
        <polygon key={String(points[0])} points={outline(points)} fill="var(--color-water1)" />
      ))}
      {picture.buildings.map((points) => (
        <polygon
          key={String(points[0])}
          points={outline(points)}
          fill="var(--color-hi)"
          stroke="var(--color-rule2)"
          strokeWidth={0.6}
        />
      ))}
      {picture.links.map(([a, b]) => {
        const [[ax, ay], [bx, by]] = [at(...a), at(...b)];
        return (
          <line key={`${a} ${b}`} x1={ax} y1={ay} x2={bx} y2={by} stroke="var(--color-water4)" strokeWidth={2.4} />
        );
      })}
      {picture.nodes.map((place) => dot(place, false))}
      {picture.stores.map((place) => dot(place, true))}
    </svg>
  );
}

function Empty() {
  const places: [number, number][] = [
    [60, 40],
    [130, 65],
    [210, 62],
  ];
  return (
    <svg viewBox="0 0 280 110" className="my-2 h-[110px] w-full" role="img" aria-label="empty sheet">
      <path d="M60 40L130 65L210 62" stroke="var(--color-rule2)" strokeDasharray="5 4" fill="none" />
      {places.map(([x, y]) => (
        <circle
          key={x}
          cx={x}
          cy={y}
          r={7}
          fill="var(--color-paper)"
          stroke="var(--color-rule2)"
          strokeDasharray="3 2"
        />
      ))}
    </svg>
  );
}
