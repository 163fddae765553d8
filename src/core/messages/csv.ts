/** One row of a CSV file. A text that a spreadsheet would take for a formula is put in front of a quote mark. */
export function csvRow(values: readonly (string | number)[]): string {
  return `${values.map(csvValue).join(",")}\r\n`;
}

function csvValue(value: string | number): string {
  if (typeof value === "number") return `${value}`;
  const harmless = /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(harmless) ? `"${harmless.replaceAll('"', '""')}"` : harmless;
}
