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
