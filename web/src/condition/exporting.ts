import type { Shown } from './TrendField';

/** What a drawing needs said in itself once it stands alone: its page's styles do not go with it. */
const STYLES = [
  'fill',
  'stroke',
  'color',
  'font-family',
  'font-size',
  'font-weight',
  'opacity',
  'paint-order',
] as const;
const TWICE = 2;

/** A drawing of the page as a file of its own: colours and type as they are seen, on the page's paper. */
export function standalone(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const from = [svg, ...svg.querySelectorAll('*')];
  const to = [copy, ...copy.querySelectorAll('*')];
  from.forEach((e, i) => {
    const into = to[i];
    if (into === undefined) {
      return;
    }
    const style = getComputedStyle(e);
    into.setAttribute('style', STYLES.map((s) => `${s}:${style.getPropertyValue(s)}`).join(';'));
    for (const name of ['class', 'tabindex', 'data-hint', 'data-visit', 'data-happened', 'href']) {
      into.removeAttribute(name);
    }
  });
  const ground = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  ground.setAttribute('width', '100%');
  ground.setAttribute('height', '100%');
  ground.setAttribute('fill', getComputedStyle(document.body).backgroundColor);
  copy.prepend(ground);
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  return new XMLSerializer().serializeToString(copy);
}

/** A drawing as a picture of twice its size on the screen. */
export async function png(svg: SVGSVGElement): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(standalone(svg))}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = svg.clientWidth * TWICE;
  canvas.height = svg.clientHeight * TWICE;
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((done, fail) =>
    canvas.toBlob(
      (blob) => (blob === null ? fail(new Error('The picture could not be made.')) : done(blob)),
      'image/png',
    ),
  );
}

/** A cell of a table: quoted where it has to be, and never read as a formula by what opens it. */
export function cell(value: string | number | undefined): string {
  if (value === undefined) {
    return '';
  }
  const text = typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : String(value);
  return /[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
}

const HEADER =
  'device,position,test_point,lane,date,value,unit,as_found,uncertainty,low,high,limit_source,verdict,record,gear,measured_at,flags';

/** What is drawn as a table, a row for each value. */
export function trendTable(shown: readonly (Shown & { asset: string; position: string })[]): string {
  const rows = shown.flatMap(({ point, asset, position }) =>
    point.visits.map((v) =>
      [
        asset,
        position,
        point.label,
        point.lane,
        v.at,
        v.value,
        point.unit,
        v.asFound,
        v.uncertainty,
        v.low,
        v.high,
        v.source,
        v.verdict,
        v.number,
        v.gear,
        v.with,
        v.flags.join('; '),
      ]
        .map(cell)
        .join(','),
    ),
  );
  return [HEADER, ...rows, ''].join('\r\n');
}
