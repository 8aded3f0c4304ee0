import { useProject } from "../../document/store";
import { THEMES, type Themed } from "./themes";

/** What the tones on the plan mean, and how many elements each is given. */
export function Legend({ shown }: { shown: Themed }) {
  const { planLook } = useProject();
  return (
    <aside
      className="absolute bottom-2 left-2 z-10 border border-rule2 bg-hi px-2 py-1 text-[11px] leading-[16px]"
      aria-label="Legend"
      data-testid="plan-legend"
    >
      <p className="pb-[2px]">
        <b className="font-semibold">{THEMES[planLook.theme]}</b>{" "}
        <span className="text-ink2">{planLook.row || "all storms"}</span>
      </p>
      {shown.missing && (
        <p className="text-ochre-ink">
          {shown.missing}
          {shown.legend.length > 0 && ", so far"}
        </p>
      )}
      <table>
        <tbody>
          {shown.legend.map(({ tone, mark, text, count }) => (
            <tr key={text} className={count === 0 ? "text-ink3" : ""}>
              <td className="pr-2">
                <svg width={26} height={8} aria-hidden="true" className="inline-block">
                  <line x1={0} x2={26} y1={4} y2={4} stroke={tone} strokeWidth={7} />
                  {mark && (
                    <line
                      x1={0}
                      x2={26}
                      y1={4}
                      y2={4}
                      stroke="#ffffff"
                      strokeWidth={1.4}
                      strokeDasharray={mark === "over" ? "6 5" : "1.5 4"}
                    />
                  )}
                </svg>
              </td>
              <td className="whitespace-nowrap pr-3">{text}</td>
              <td className="figure text-right">{count}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </aside>
  );
}
