import Papa from 'papaparse';

/** A record of a file: its cells, the line on which it starts (the first is 1), and what is wrong with it as CSV. */
export interface CsvRecord {
  cells: string[];
  line: number;
  problem: string | null;
}

/** A quote that is open for longer than this was never meant to be one. In UTF-16 units. */
const longestRecord = 64 * 1024;
/** A line without an end by this length is read as it is. */
const longestLine = 1024 * 1024;

/**
 * Reads CSV (RFC 4180) that comes in parts, wherever these are cut: by comma, semicolon or tab, whichever its first line
 * has, and whatever ends its lines. Every line of the file is in exactly one record, so that all can be accounted for.
 */
export class CsvParts {
  private rest = '';
  private line = 1;
  private delimiter: string | null = null;
  /** An old spreadsheet ends its lines with CR alone. */
  private crAlone = false;

  /** The records that are whole by now; those that a later part may go on with are kept for it. */
  read(part: string, last: boolean): CsvRecord[] {
    this.rest += part.replaceAll('\0', '');
    if (this.delimiter === null && !this.begin(last)) return [];
    const text = this.crAlone ? this.rest.replaceAll('\r', '\n') : this.rest;
    const all = last || text.length > longestLine;
    const end = all ? text.length : text.lastIndexOf('\n') + 1;
    const body = text.slice(0, end);
    this.rest = text.slice(end);
    return body === '' ? [] : this.recordsOf(body, last);
  }

  /** Learns from the first line how the file is written; false where that line is not all here yet. */
  private begin(last: boolean): boolean {
    this.rest = this.rest.replace(/^\uFEFF/, '');
    const end = this.rest.search(/[\r\n]/);
    // After a final CR it is not known yet whether an LF follows.
    const whole = end >= 0 && end < this.rest.length - 1;
    if (!whole && !last && this.rest.length < longestLine) return false;
    this.crAlone = end >= 0 && this.rest[end] === '\r' && this.rest[end + 1] !== '\n';
    const header = end < 0 ? this.rest : this.rest.slice(0, end);
    this.delimiter = header.includes(',') ? ',' : header.includes(';') ? ';' : '\t';
    return true;
  }

  private recordsOf(body: string, last: boolean): CsvRecord[] {
    const delimiter = this.delimiter!;
    const records: CsvRecord[] = [];
    let cursor = 0;
    Papa.parse<string[]>(body, {
      delimiter,
      step: ({ data: cells, errors, meta }) => {
        const [start, line] = [cursor, this.line];
        for (; cursor < meta.cursor; cursor++) if (body[cursor] === '\n') this.line++;
        const record = body.slice(start, cursor);
        const open = errors.some(({ code }) => code === 'MissingQuotes');
        if (open && !last && record.length < longestRecord) {
          this.rest = record + this.rest;
          this.line = line;
          return;
        }
        const lines = record.trimEnd().split('\n');
        // A misplaced closing quote swallows the rows after it, so each of them is read on its own.
        if (errors.length > 0 && lines.length > 1)
          lines.forEach((one, i) => {
            const { data, errors: own } = Papa.parse<string[]>(one, { delimiter });
            records.push({ cells: data[0] ?? [], line: line + i, problem: own[0]?.message ?? null });
          });
        else records.push({ cells, line, problem: errors[0]?.message ?? null });
      },
    });
    return records;
  }
}
