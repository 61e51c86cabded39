import type { StandardTableView } from '../api/types';

/** A table while it is edited. */
export interface TableEdit {
  id: string;
  title: string;
  edition: string;
  /** Fields of the nameplate with what stands there, as they are typed. */
  when: [string, string][];
  rows: string[][];
  retired: boolean;
}

export const editOf = (table: StandardTableView): TableEdit => ({
  id: table.id,
  title: table.title,
  edition: table.edition,
  when: Object.entries(table.when),
  rows: table.rows.map((r) => [...r]),
  retired: table.retired,
});

/** A table of one's own, made from another. */
export const copyOf = (table: StandardTableView): TableEdit => ({
  ...editOf(table),
  id: `${table.id}-own`.slice(0, 60),
  title: `${table.title}, own`,
  retired: false,
});

/** With another text in a cell. */
export const withCell = (edit: TableEdit, row: number, column: number, text: string): TableEdit => ({
  ...edit,
  rows: edit.rows.map((r, i) => (i === row ? r.map((c, k) => (k === column ? text : c)) : r)),
});

/** With a row more behind one, as that one is. */
export const withRowAfter = (edit: TableEdit, row: number): TableEdit => {
  const like = edit.rows[row];
  return like === undefined ? edit : { ...edit, rows: edit.rows.toSpliced(row + 1, 0, [...like]) };
};

export const withoutRow = (edit: TableEdit, row: number): TableEdit => ({
  ...edit,
  rows: edit.rows.toSpliced(row, 1),
});

/**
 * Cells as they are pasted from a table: lines with tabs, or with semicolons where there is no tab. They are put down
 * from a cell on; rows that there are not yet are added, what stands beyond the last column is left out.
 */
export function pasted(edit: TableEdit, row: number, column: number, text: string): TableEdit {
  const lines = text.replace(/\r/g, '').replace(/\n$/, '').split('\n');
  const cells = lines.map((l) => l.split(l.includes('\t') ? '\t' : ';').map((c) => c.trim()));
  const width = edit.rows[0]?.length ?? 0;
  const rows = edit.rows.map((r) => [...r]);
  cells.forEach((line, i) => {
    const into = (rows[row + i] ??= Array.from({ length: width }, () => ''));
    line.forEach((cell, k) => {
      if (column + k < width) {
        into[column + k] = cell;
      }
    });
  });
  return { ...edit, rows };
}

/** A group or a heading as words: endFaces is End faces, um is µm. */
export const inWords = (key: string): string => {
  const words = key.replace(/([a-z])([A-Z])/g, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`);
  return words.charAt(0).toUpperCase() + words.slice(1).replace(/\bum\b/, 'µm');
};
