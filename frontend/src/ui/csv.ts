/** Rows as RFC 4180 has them; cells that a spreadsheet would take for formulas are marked as text. */
export function csvText(rows: readonly (readonly (string | number)[])[]): string {
  return `${rows.map((row) => row.map(cell).join(",")).join("\r\n")}\r\n`;
}

function cell(value: string | number): string {
  const text = typeof value === "string" && /^[=+\-@\t]/.test(value) ? `'${value}` : String(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
