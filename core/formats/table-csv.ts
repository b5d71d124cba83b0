import Papa from 'papaparse';

/** How a text starts that a spreadsheet would run, on as many lines as it has. */
export const runs = /^[=+\-@\t\r\n]/;

/** Any table as CSV (RFC 4180): a header and its rows. A cell that starts like a formula gets an apostrophe before it. */
export const writeTableCsv = (
  columns: readonly string[],
  rows: readonly (readonly (string | number | null)[])[],
) =>
  // As rows and not as a table: of an empty one Papa would end the header with a line of its own.
  `${Papa.unparse([[...columns], ...rows.map((row) => [...row])], { escapeFormulae: runs })}\r\n`;
