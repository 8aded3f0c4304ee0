/** A block of cells as a spreadsheet copies it: rows by line, cells by tab (or semicolon). */
export function readBlock(text: string): string[][] {
  const lines = text.replace(/\r/g, "").replace(/\n+$/, "").split("\n");
  return lines.map((line) => line.split(line.includes("\t") ? "\t" : ";").map((cell) => cell.trim()));
}

/** The number in a cell; null where there is none. Spaces between thousands and a decimal comma are read. */
export function readNumber(cell: string): number | null {
  const text = cell.replace(/[\s\u00a0]/g, "").replace("−", "-");
  if (!/^-?(\d+[.,]?\d*|[.,]\d+)$/.test(text)) return null;
  return Number(text.replace(",", "."));
}

export type DepthBlock = { durations: number[]; return_periods: number[]; depths: number[][] };

/**
 * A depth table from a block whose first row holds durations (min) and whose first column holds return periods (years),
 * depths in mm. What is wrong is said with row and column, counted from 1.
 */
export function readDepthTable(text: string): DepthBlock | string {
  const rows = readBlock(text).filter((row) => row.some((cell) => cell !== ""));
  const [head, ...body] = rows;
  if (!head || head.length < 2 || body.length < 1)
    return "paste at least one row of depths under a row of durations, with return periods in the first column";
  const at = (row: string[], i: number, j: number) =>
    readNumber(row[j] ?? "") ?? `row ${i + 1}, column ${j + 1}: “${row[j] ?? ""}” is no number`;
  const durations: number[] = [];
  for (let j = 1; j < head.length; j++) {
    const value = at(head, 0, j);
    if (typeof value === "string") return value;
    durations.push(value);
  }
  const return_periods: number[] = [];
  const depths: number[][] = [];
  for (const [i, row] of body.entries()) {
    const period = at(row, i + 1, 0);
    if (typeof period === "string") return period;
    return_periods.push(period);
    const line: number[] = [];
    for (let j = 1; j <= durations.length; j++) {
      const value = at(row, i + 1, j);
      if (typeof value === "string") return value;
      line.push(value);
    }
    depths.push(line);
  }
  return { durations, return_periods, depths };
}
