import { beforeEach, describe, expect, it } from "vitest";
import type { Answer } from "../src/api/client";
import { type CursorPart, cursorPart, type Opened } from "../src/document/cursor";
import type { Transport } from "../src/document/transport";
import { stream } from "./stream";

/** A server that sends series when it is told to, and what asks it. */
function cursor() {
  const asked: { storm: string; option: string; send: (end: number) => void; fail: () => void }[] = [];
  const errors: unknown[] = [];
  let state: CursorPart & Opened;
  const transport = {
    series: ({ option }, storm) =>
      new Promise<ArrayBuffer>((go, fail) =>
        asked.push({ storm, option, send: (end) => go(stream({ time: [0, end] })), fail: () => fail(new Error("no")) }),
      ),
  } as Partial<Transport> as Transport;
  const part = cursorPart(
    transport,
    (some) => Object.assign(state, some),
    () => state,
  );
  state = { ...part, id: "p", option: "A", revision: 1, fingerprint: "one", say: (error) => errors.push(error) };
  return { asked, errors, state };
}

const settle = () => new Promise((go) => setTimeout(go, 0));
const rule = (storm: string | null, value: number | null, scale: number, more = {}) => ({
  storm,
  value,
  scale,
  time: 60,
  element: `${storm}'s`,
  ...more,
});
const answer = (verdicts: unknown[], storms: string[], state = "running") =>
  ({ verdicts, storms: storms.map((key) => ({ key })), state }) as unknown as Answer;

describe("what an answer puts the cursor on", () => {
  let on: ReturnType<typeof cursor>;
  beforeEach(() => {
    on = cursor();
  });

  it("the storm that governs the rule with the least left of its scale, at its moment and its element", () => {
    const verdicts = [rule("a", 0.5, 1), rule(null, null, 1), rule("b", 1, 10, { time: 90 }), rule("c", 0.2, 1)];
    on.state.answered(answer(verdicts, ["a", "b", "c"]));
    expect(on.state.cursor).toEqual({ storm: "b", rule: 2, element: "b's" });
    expect(on.state.moment).toBe(90);
    expect(on.asked.map((one) => one.storm)).toEqual(["b"]);
  });

  it("the worst of those that fail, and a rule without a scale by its value", () => {
    on.state.answered(answer([rule("a", -1, 10), rule("b", -8, 0), rule("c", -3, 1)], ["a", "b", "c"]));
    expect(on.state.cursor.storm).toBe("b");
  });

  it("an element that is picked stays picked", () => {
    on.state.point({ element: "mine" });
    on.state.answered(answer([rule("a", 0.5, 1)], ["a"]));
    expect(on.state.cursor).toEqual({ storm: "a", rule: 0, element: "mine" });
  });

  it("where nothing is judged yet, the first storm; where there is none, none", () => {
    on.state.answered(answer([rule(null, null, 1)], ["x", "y"]));
    expect(on.state.cursor.storm).toBe("x");
    on.state.beginAnew();
    on.state.answered(answer([], []));
    expect(on.state.cursor.storm).toBeNull();
  });

  it("series say of which inputs they are, also while others are on their way", async () => {
    on.state.point({ storm: "y" });
    on.asked[0]?.send(600);
    await settle();
    expect(on.state.seriesOf).toEqual({ storm: "y", inputs: "one" });
    Object.assign(on.state, { revision: 2, fingerprint: "two" });
    on.state.answered(answer([], ["y"], "settled"));
    expect(on.state.seriesOf).toEqual({ storm: "y", inputs: "one" });
    on.asked[1]?.send(700);
    await settle();
    expect(on.state.seriesOf).toEqual({ storm: "y", inputs: "two" });
  });

  it("a storm that is looked at stays, and is read once its answer is settled", () => {
    on.state.point({ storm: "y" });
    on.state.reload();
    on.asked.length = 0;
    on.state.answered(answer([rule("x", 0.1, 1)], ["x", "y"]));
    expect(on.state.cursor.storm).toBe("y");
    expect(on.asked).toEqual([]);
    on.state.answered(answer([rule("x", 0.1, 1)], ["x", "y"], "settled"));
    expect(on.asked.map((one) => one.storm)).toEqual(["y"]);
  });

  it("a storm that is no longer in the ensemble is left for the governing one", () => {
    on.state.point({ storm: "gone" });
    on.state.answered(answer([rule("x", 0.1, 1)], ["x", "y"]));
    expect(on.state.cursor.storm).toBe("x");
  });
});

describe("the series of a storm", () => {
  let on: ReturnType<typeof cursor>;
  beforeEach(() => {
    on = cursor();
  });

  it("that comes late, when another storm is looked at, is not shown", async () => {
    on.state.point({ storm: "a" });
    on.state.point({ storm: "b" });
    on.asked[1]?.send(20);
    await settle();
    on.asked[0]?.send(10);
    await settle();
    expect(on.state.series?.end).toBe(20);
  });

  it("is asked for once, and again after another revision, in another option, or when what was read is void", () => {
    on.state.point({ storm: "a" });
    on.state.point({ storm: "a" });
    expect(on.asked.length).toBe(1);
    on.state.revision = 2;
    on.state.point({ storm: "a" });
    expect(on.asked.length).toBe(2);
    on.state.option = "B";
    on.state.point({ storm: "a" });
    expect(on.asked.map((one) => one.option)).toEqual(["A", "A", "B"]);
    on.state.reload();
    on.state.point({ storm: "a" });
    expect(on.asked.length).toBe(4);
  });

  it("that could not be read is said, and asked for again", async () => {
    on.state.point({ storm: "a" });
    on.asked[0]?.fail();
    await settle();
    expect(on.errors).toEqual([new Error("no")]);
    on.state.point({ storm: "a" });
    expect(on.asked.length).toBe(2);
  });

  it("is not asked for without a project, a storm, or by a moment alone", () => {
    on.state.point({ moment: 30 });
    on.state.point({ storm: null });
    on.state.id = null;
    on.state.point({ storm: "a" });
    expect(on.asked).toEqual([]);
    expect(on.state.moment).toBe(30);
  });
});

describe("picks", () => {
  it("keep the element that is looked at while it is among them, and else take the last", () => {
    const { state } = cursor();
    state.pickAll(["a", "b"]);
    expect(state.cursor.element).toBe("b");
    state.point({ element: "a" });
    expect([...state.picked]).toEqual(["a"]);
    state.pickAll(["b", "a", "c"]);
    expect(state.cursor.element).toBe("a");
    state.pickAll([]);
    expect(state.cursor.element).toBeNull();
  });

  it("a chain ends with the next pick, and with none", () => {
    const { state } = cursor();
    state.showChain(["a", "b"]);
    expect([state.chain, [...state.picked]]).toEqual([
      ["a", "b"],
      ["a", "b"],
    ]);
    state.pickAll(["c"]);
    expect(state.chain).toBeNull();
    state.showChain(["a"]);
    state.point({ element: null });
    expect([state.chain, state.picked.size]).toEqual([null, 0]);
  });

  it("are forgotten with the project", () => {
    const { state } = cursor();
    state.point({ element: "a", storm: "s", rule: 2, moment: 5 });
    state.beginAnew();
    expect([state.cursor, state.moment, state.picked.size]).toEqual([{ element: null, storm: null, rule: 0 }, 0, 0]);
  });
});
