import Papa from 'papaparse';

/** Any table as CSV (RFC 4180): a header and its rows. A cell that starts like a formula gets an apostrophe before it. */
export const writeTableCsv = (
  columns: readonly string[],
  rows: readonly (readonly (string | number | null)[])[],
) =>
  Papa.unparse({ fields: [...columns], data: rows.map((row) => [...row]) }, { escapeFormulae: true }) +
  '\r\n';
