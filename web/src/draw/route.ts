/** A place of a route; what {@link parseRoute} reads from a line of the text a route is kept as. */
export interface RoutePlace {
  /** From the near end along the route. */
  readonly km: number;
  readonly what: string;
  readonly name: string;
  /** Above sea, m. */
  readonly height: number | null;
  /** Length that lies coiled there, m. */
  readonly slack: number;
  /** Code of the position it belongs to; empty for none. */
  readonly position: string;
}

/** The values of a line in their order, as typed. */
export const ROUTE_COLUMNS = ['km', 'what', 'name', 'height_m', 'slack_m', 'position'] as const;

/** Lines of a route as cells, as many as there are columns; of text in its own form, or pasted with tabs or commas. */
export function routeCells(text: string): string[][] {
  return text
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '')
    .map((line) => line.split(line.includes(';') ? ';' : line.includes('\t') ? '\t' : ','))
    .filter((cells, i) => i > 0 || !/^"?km"?$/i.test((cells[0] ?? '').trim()))
    .map((cells) => ROUTE_COLUMNS.map((_, i) => (cells[i] ?? '').trim().replace(/^"(.*)"$/, '$1')));
}

/** The text of cells; the server says what is wrong with it. */
export const routeText = (cells: readonly (readonly string[])[]): string =>
  cells
    .map((row) =>
      row
        .map((c) => c.replace(/[;\t\r\n]/g, ' ').trim())
        .join(';')
        .replace(/;+$/, ''),
    )
    .join('\n');

const number = (cell: string | undefined): number | null => {
  const value = Number((cell ?? '').replace(',', '.'));
  return (cell ?? '') === '' || Number.isNaN(value) ? null : value;
};

/** Places of a route, those whose distance is a number. */
export function parseRoute(text: string): RoutePlace[] {
  return routeCells(text).flatMap(([km, what = '', name = '', height, slack, position = '']) => {
    const at = number(km);
    return at === null ? [] : [{ km: at, what, name, height: number(height), slack: number(slack) ?? 0, position }];
  });
}

/** Heights where nobody noted one lie on the line between those beside; 0 where none is known at all. */
export function heights(places: readonly Pick<RoutePlace, 'km' | 'height'>[]): number[] {
  const known = places.filter((p) => p.height !== null);
  return places.map((p) => {
    if (p.height !== null) {
      return p.height;
    }
    const before = [...known].reverse().find((k) => k.km <= p.km);
    const after = known.find((k) => k.km >= p.km);
    if (before === undefined || after === undefined || after.km === before.km) {
      return before?.height ?? after?.height ?? 0;
    }
    const share = (p.km - before.km) / (after.km - before.km);
    return (before.height ?? 0) + share * ((after.height ?? 0) - (before.height ?? 0));
  });
}
