import { Minus, Plus } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import {
  labels,
  marginTicks,
  nearest,
  places,
  shifted,
  towards,
  wholeView,
  yearsLeft,
  YEARS,
  zoomed,
  type Marks,
  type Region,
  type View,
} from '../draw/drift';
import { linearTicks } from '../draw/scale';
import { Button } from '../ui/controls';
import { useFieldSize } from '../ui/useFieldSize';
import { signedPercent } from './words';

interface Props {
  marks: Marks;
  region: Region | null;
  /** A device that is pointed at elsewhere on the page; null for none. */
  shown: string | null;
  choose: (region: Region | null) => void;
  open: (asset: string) => void;
  /** What is to be known of what has no place on it. */
  children?: ReactNode;
}

const ROOM = { left: 58, right: 18, top: 12, bottom: 46 };
/** Height of the lane of those that have a margin and no drift yet. */
const LANE = 30;
const NEAR = 14;
const LEAST_DRAG = 6;
const MOST_NAMES = 14;
const SPRITE = 18;
const COLOURS = { a: '--brick', w: '--ochre', s: '--pine', u: '--quiet' } as const;
type Letter = keyof typeof COLOURS;
/** What matters lies on top. */
const ORDER: readonly Letter[] = ['u', 's', 'w', 'a'];
const WORDS = { a: 'act', w: 'watch', s: 'sound', u: 'not known' } as const;

const paint = (variable: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(variable).trim();

function shape(to: CanvasRenderingContext2D, letter: Letter): void {
  const colour = paint(COLOURS[letter]);
  to.fillStyle = colour;
  to.strokeStyle = colour;
  to.lineWidth = 1.9;
  to.beginPath();
  switch (letter) {
    case 'a':
      to.moveTo(9, 2.5);
      to.lineTo(16, 15);
      to.lineTo(2, 15);
      to.closePath();
      to.fill();
      break;
    case 'w':
      to.moveTo(9, 3.4);
      to.lineTo(15.2, 14.2);
      to.lineTo(2.8, 14.2);
      to.closePath();
      to.fillStyle = paint('--paper');
      to.fill();
      to.stroke();
      break;
    case 's':
      to.globalAlpha = 0.62;
      to.arc(9, 9, 3.6, 0, 2 * Math.PI);
      to.fill();
      break;
    case 'u':
      to.globalAlpha = 0.8;
      to.moveTo(5.5, 5.5);
      to.lineTo(12.5, 12.5);
      to.moveTo(12.5, 5.5);
      to.lineTo(5.5, 12.5);
      to.stroke();
      break;
  }
}

function sprites(ratio: number): Record<Letter, HTMLCanvasElement> {
  const made = (letter: Letter): HTMLCanvasElement => {
    const canvas = document.createElement('canvas');
    canvas.width = SPRITE * ratio;
    canvas.height = SPRITE * ratio;
    const to = canvas.getContext('2d');
    if (to !== null) {
      to.scale(ratio, ratio);
      shape(to, letter);
    }
    return canvas;
  };
  return { a: made('a'), w: made('w'), s: made('s'), u: made('u') };
}

/** How far a number is from 0 to 1 that is the same each time: where a mark stands across its lane. */
const scattered = (i: number): number => ((i * 2654435761) % 4096) / 4096;

/** What a mark says when it is pointed at. */
function told(marks: Marks, i: number): string {
  const margin = marks.margin[i] ?? 0;
  const drift = marks.drift[i];
  const left = drift === undefined ? null : yearsLeft(margin, drift);
  return [
    `${marks.position[i] ?? ''}, ${marks.models[marks.model[i] ?? -1] ?? ''}: ${WORDS[(marks.standing[i] ?? 'u') as Letter]}`,
    `${Math.round(margin * 100)} % of the margin used`,
    drift === undefined ? 'no rate yet' : `${signedPercent(drift)} a year`,
    left === null || left > 60 ? '' : `${left < 1.5 ? left.toFixed(1) : Math.round(left)} years left at this pace`,
  ]
    .filter((w) => w !== '')
    .join(', ');
}

/**
 * The fleet on one map: each device a mark, margin used to the right, change a year upward, lines of equal time left
 * fanning out of "at the limit, no drift". A drag chooses a region, a click opens a device; with the keyboard arrows go
 * from mark to mark.
 */
export function DriftMap({ marks, region, shown, choose, open, children }: Props) {
  const [box, size, scheme] = useFieldSize(120);
  const canvas = useRef<HTMLCanvasElement>(null);
  const whole = useMemo(() => wholeView(marks), [marks]);
  const [part, setPart] = useState<View | null>(null);
  const [pointed, setPointed] = useState<{ mark: number; keys: boolean } | null>(null);
  const [drag, setDrag] = useState<{ x0: number; y0: number; x: number; y: number } | null>(null);
  const [from, setFrom] = useState(marks);
  if (from !== marks) {
    setFrom(marks);
    setPart(null);
    setPointed(null);
  }
  const view = part ?? whole;
  const lane = marks.margin.length > marks.drift.length ? LANE : 0;
  const width = Math.max(60, (size?.width ?? 600) - ROOM.left - ROOM.right);
  const height = Math.max(60, (size?.height ?? 400) - ROOM.top - ROOM.bottom - lane);
  const placed = useMemo(() => {
    const rated = places(marks, view, width, height, whole);
    const n = marks.margin.length;
    const x = new Float32Array(n);
    const y = new Float32Array(n);
    x.set(rated.x);
    y.set(rated.y);
    for (let i = rated.x.length; i < n; i++) {
      const across = ((marks.margin[i] ?? 0) - view.left) / (view.right - view.left);
      const hidden = part !== null && (across < 0 || across > 1);
      x[i] = hidden ? Number.NaN : Math.min(1, Math.max(0, across)) * width;
      y[i] = hidden ? Number.NaN : height + 8 + scattered(i) * (LANE - 14);
    }
    return { x, y, beyond: rated.beyond };
  }, [marks, view, whole, part, width, height]);

  useEffect(() => {
    const onto = canvas.current;
    const to = onto?.getContext('2d') ?? null;
    if (onto === null || to === null) {
      return;
    }
    const ratio = window.devicePixelRatio || 1;
    const all = sprites(ratio);
    onto.width = (width + SPRITE) * ratio;
    onto.height = (height + lane + SPRITE) * ratio;
    to.clearRect(0, 0, onto.width, onto.height);
    for (const letter of ORDER) {
      const sprite = all[letter];
      for (let i = 0; i < placed.x.length; i++) {
        const x = placed.x[i] ?? Number.NaN;
        if (marks.standing[i] === letter && !Number.isNaN(x)) {
          to.drawImage(sprite, Math.round(x * ratio), Math.round((placed.y[i] ?? 0) * ratio));
        }
      }
    }
    to.strokeStyle = paint('--ink');
    to.lineWidth = 1.2 * ratio;
    // An arrowhead beyond a mark at the edge: it belongs farther out.
    for (let i = 0; i < placed.beyond.length; i++) {
      if (placed.beyond[i] === 1 && !Number.isNaN(placed.x[i] ?? Number.NaN)) {
        const right = (placed.x[i] ?? 0) >= width - 0.5;
        const x = ((placed.x[i] ?? 0) + SPRITE / 2) * ratio;
        const y = ((placed.y[i] ?? 0) + SPRITE / 2) * ratio;
        const far = 9 * ratio;
        const side = 3 * ratio;
        to.beginPath();
        if (right) {
          to.moveTo(x + far - side, y - side);
          to.lineTo(x + far, y);
          to.lineTo(x + far - side, y + side);
        } else {
          to.moveTo(x - side, y - far + side);
          to.lineTo(x, y - far);
          to.lineTo(x + side, y - far + side);
        }
        to.stroke();
      }
    }
  }, [placed, marks, width, height, lane, scheme]);

  const named = useMemo(() => {
    const order = (['a', 'w'] as const).flatMap((letter) =>
      Array.from({ length: marks.drift.length }, (_, i) => i)
        .filter((i) => marks.standing[i] === letter)
        .sort((a, b) => (marks.margin[b] ?? 0) - (marks.margin[a] ?? 0)),
    );
    return labels(placed, marks.position, order, { width, height }, MOST_NAMES);
  }, [placed, marks, width, height]);

  const at = (e: { clientX: number; clientY: number }): { x: number; y: number } => {
    const rect = box.current?.getBoundingClientRect();
    return { x: e.clientX - (rect?.left ?? 0) - ROOM.left, y: e.clientY - (rect?.top ?? 0) - ROOM.top };
  };
  const marginAt = (x: number): number => view.left + (x / width) * (view.right - view.left);
  const driftAt = (y: number): number => view.bottom + (1 - y / height) * (view.top - view.bottom);
  const xOf = (margin: number): number => ((margin - view.left) / (view.right - view.left)) * width;
  const yOf = (drift: number): number => (1 - (drift - view.bottom) / (view.top - view.bottom)) * height;
  const inside = (value: number, most: number): number => Math.min(most, Math.max(0, value));

  const down = (e: PointerEvent): void => {
    if (e.button === 0) {
      const { x, y } = at(e);
      e.currentTarget.setPointerCapture(e.pointerId);
      setDrag({ x0: x, y0: y, x, y });
    }
  };
  const move = (e: PointerEvent): void => {
    const { x, y } = at(e);
    if (drag !== null) {
      setDrag({ ...drag, x, y });
    } else {
      const mark = nearest(placed, x, y, NEAR);
      setPointed(mark < 0 ? null : { mark, keys: false });
    }
  };
  const up = (e: PointerEvent): void => {
    if (drag === null) {
      return;
    }
    setDrag(null);
    const { x, y } = at(e);
    if (Math.hypot(x - drag.x0, y - drag.y0) < LEAST_DRAG) {
      const mark = nearest(placed, x, y, NEAR);
      const asset = marks.asset[mark];
      if (asset !== undefined) {
        open(asset);
      } else if (region !== null) {
        choose(null);
      }
      return;
    }
    const side = (a: number, b: number, most: number): [number, number] => [
      inside(Math.min(a, b), most),
      inside(Math.max(a, b), most),
    ];
    const [left, right] = side(drag.x0, x, width);
    const [top, bottom] = side(drag.y0, y, height);
    // What stands at an edge is beyond it: a region that reaches the edge takes it in.
    const far = 1e6;
    choose([
      left <= 0 ? -far : marginAt(left),
      right >= width ? far : marginAt(right),
      bottom >= height ? -far : driftAt(bottom),
      top <= 0 ? far : driftAt(top),
    ]);
  };

  const turn = (factor: number, x = width / 2, y = height / 2): void => {
    const next = zoomed(view, factor, marginAt(inside(x, width)), driftAt(inside(y, height)), whole);
    setPart(next === whole ? null : shifted(next, 0, 0, whole));
  };
  useEffect(() => {
    const over = box.current;
    // React's wheel listeners are passive: the page would scroll along.
    const wheel = (e: WheelEvent): void => {
      e.preventDefault();
      const { x, y } = at(e);
      turn(e.deltaY > 0 ? 1.25 : 0.8, x, y);
    };
    over?.addEventListener('wheel', wheel, { passive: false });
    return () => over?.removeEventListener('wheel', wheel);
  });

  const keys = (e: KeyboardEvent): void => {
    const arrows: Record<string, readonly [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const arrow = arrows[e.key];
    if (arrow !== undefined && e.shiftKey) {
      setPart(part === null ? null : shifted(view, arrow[0] * 0.2, -arrow[1] * 0.2, whole));
    } else if (arrow !== undefined) {
      const first = named[0]?.mark ?? nearest(placed, width / 2, height / 2, 1e9);
      const next = pointed === null ? first : towards(placed, pointed.mark, arrow[0], arrow[1]);
      setPointed(next < 0 ? pointed : { mark: next, keys: true });
    } else if (e.key === 'Enter' && pointed !== null) {
      open(marks.asset[pointed.mark] ?? '');
    } else if (e.key === '+' || e.key === '=') {
      turn(0.8, placed.x[pointed?.mark ?? -1], placed.y[pointed?.mark ?? -1]);
    } else if (e.key === '-') {
      turn(1.25);
    } else if (e.key === '0') {
      setPart(null);
    } else if (e.key === 'Escape' && (pointed !== null || region !== null)) {
      setPointed(null);
      if (pointed === null) {
        choose(null);
      }
    } else {
      return;
    }
    e.preventDefault();
  };

  const lit = pointed?.mark ?? (shown === null ? -1 : marks.asset.indexOf(shown));
  const litX = placed.x[lit];
  const litY = placed.y[lit];
  const outline =
    drag !== null && Math.hypot(drag.x - drag.x0, drag.y - drag.y0) >= LEAST_DRAG
      ? {
          left: inside(Math.min(drag.x0, drag.x), width),
          right: inside(Math.max(drag.x0, drag.x), width),
          top: inside(Math.min(drag.y0, drag.y), height),
          bottom: inside(Math.max(drag.y0, drag.y), height),
        }
      : region === null
        ? null
        : {
            left: inside(xOf(region[0]), width),
            right: inside(xOf(region[1]), width),
            top: inside(yOf(region[3]), height),
            bottom: inside(yOf(region[2]), height),
          };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div
        ref={box}
        className="relative min-h-[300px] flex-1 max-[1000px]:min-h-[480px] cursor-crosshair touch-none select-none"
        role="application"
        aria-roledescription="drift map"
        aria-label={`Drift map of ${marks.asset.length} devices. Arrows go from mark to mark, Enter opens one, plus and minus zoom. The table has the same content.`}
        tabIndex={0}
        onKeyDown={keys}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => setDrag(null)}
        onPointerLeave={() => (drag === null ? setPointed(null) : undefined)}
        onBlur={() => setPointed(null)}
        data-drift-map
      >
        <Ground view={view} width={width} height={height} lane={lane} />
        <canvas
          ref={canvas}
          className="pointer-events-none absolute"
          style={{
            left: ROOM.left - SPRITE / 2,
            top: ROOM.top - SPRITE / 2,
            width: width + SPRITE,
            height: height + lane + SPRITE,
          }}
        />
        <div className="pointer-events-none absolute" style={{ left: ROOM.left, top: ROOM.top, width, height }}>
          {named.map((l) => (
            <span
              key={l.mark}
              className="on-map absolute -translate-y-1/2 px-0.5 text-[13px] leading-none font-medium whitespace-nowrap"
              style={l.side === 'right' ? { left: l.x, top: l.y } : { right: width - l.x, top: l.y }}
            >
              {marks.position[l.mark]}
            </span>
          ))}
          {outline === null ? null : (
            <span
              className="absolute border-2 border-lake bg-lake/10"
              style={{
                left: outline.left,
                top: outline.top,
                width: outline.right - outline.left,
                height: outline.bottom - outline.top,
              }}
              data-region
            />
          )}
          {litX === undefined || litY === undefined || Number.isNaN(litX) ? null : (
            <>
              <span
                className="absolute h-[22px] w-[22px] -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-lake"
                style={{ left: litX, top: litY }}
              />
              {pointed === null ? null : (
                <Told x={litX} y={litY} width={width}>
                  {told(marks, lit)}
                </Told>
              )}
            </>
          )}
        </div>
        <p className="sr-only" aria-live="polite">
          {pointed?.keys ? told(marks, pointed.mark) : ''}
        </p>
      </div>
      <div className="flex items-center gap-x-2 font-condensed text-[14px] text-quiet">
        <p className="min-w-0 flex-1">Lines join devices with equal time left. Drag to choose a region. {children}</p>
        {part === null ? null : (
          <Button weight="quiet" className="min-h-9! px-2!" onClick={() => setPart(null)}>
            Whole map
          </Button>
        )}
        <span className="flex" role="group" aria-label="Zoom">
          <Button
            weight="quiet"
            className="min-h-9! min-w-9 px-0! max-[1000px]:min-h-11! max-[1000px]:min-w-11"
            aria-label="Nearer"
            data-hint="Nearer (wheel, or +)"
            onClick={() => turn(0.7)}
          >
            <Plus size={16} aria-hidden />
          </Button>
          <Button
            weight="quiet"
            className="min-h-9! min-w-9 px-0! max-[1000px]:min-h-11! max-[1000px]:min-w-11"
            aria-label="Farther"
            data-hint="Farther (wheel, or -)"
            disabled={part === null}
            onClick={() => turn(1.4)}
          >
            <Minus size={16} aria-hidden />
          </Button>
        </span>
      </div>
    </div>
  );
}

/** Words beside a mark, on the side where there is room. */
function Told({ x, y, width, children }: { x: number; y: number; width: number; children: ReactNode }) {
  const right = x > width / 2;
  return (
    <span
      className="absolute z-10 w-max max-w-[300px] -translate-y-full border border-ink bg-sheet px-2 py-1 text-[13px] leading-snug"
      style={{ top: y - 14 < 40 ? y + 66 : y - 14, ...(right ? { right: width - x - 12 } : { left: x - 12 }) }}
      data-told
    >
      {children}
    </span>
  );
}

/** Grid, zones, lines of equal time, figures: what the marks stand on. */
function Ground({ view, width, height, lane }: { view: View; width: number; height: number; lane: number }) {
  const x = (margin: number): number => ((margin - view.left) / (view.right - view.left)) * width;
  const y = (drift: number): number => (1 - (drift - view.bottom) / (view.top - view.bottom)) * height;
  const across = marginTicks(view, width > 460 ? 6 : 3);
  const upward = linearTicks(view.bottom, view.top, height > 300 ? 6 : 4);
  const limit = x(1);
  const clip = 'drift-field';
  // Each line from the limit's foot to the left edge or the top, whichever comes first.
  const lines = YEARS.map((years) => {
    const left = (1 - view.left) / years;
    const end = left <= view.top ? { u: view.left, d: left } : { u: 1 - years * view.top, d: view.top };
    return { years, ...end };
  });
  const one = lines[0];
  return (
    <svg className="absolute inset-0 h-full w-full overflow-visible" aria-hidden="true">
      <g transform={`translate(${ROOM.left} ${ROOM.top})`} fontSize="12" fill="var(--ink)">
        <clipPath id={clip}>
          <rect width={width} height={height} />
        </clipPath>
        <g clipPath={`url(#${clip})`}>
          {one === undefined ? null : (
            <path
              d={`M${x(1)} ${y(0)}L${x(one.u)} ${y(one.d)}L${x(one.u)} ${y(Math.max(view.top, one.d))}L${x(1)} ${y(Math.max(view.top, one.d))}Z`}
              fill="var(--ochre)"
              opacity="0.13"
            />
          )}
          <rect x={limit} y={0} width={Math.max(0, width - limit)} height={height} fill="var(--brick)" opacity="0.08" />
          {across.map((t) => (
            <line key={t} x1={x(t)} x2={x(t)} y1={0} y2={height} stroke="var(--rule)" />
          ))}
          {upward.map((t) => (
            <line key={t} x1={0} x2={width} y1={y(t)} y2={y(t)} stroke="var(--rule)" strokeWidth={t === 0 ? 2 : 1} />
          ))}
          {lines.map((l) => (
            <line
              key={l.years}
              x1={x(1)}
              y1={y(0)}
              x2={x(l.u)}
              y2={y(l.d)}
              stroke="var(--ink)"
              strokeDasharray={l.years === 1 ? undefined : '5 4'}
            />
          ))}
          <line x1={limit} x2={limit} y1={0} y2={height} stroke="var(--ink)" strokeWidth="2" />
        </g>
        <rect width={width} height={height} fill="none" stroke="var(--rule)" />
        {lines.map((l) => (
          <Years key={l.years} l={l} x={x} y={y} view={view} width={width} height={height} />
        ))}
        {limit >= 0 && limit <= width - 34 ? (
          <text x={limit + 6} y={14} fontWeight="600">
            limit
          </text>
        ) : null}
        {across.map((t) => (
          <text key={t} x={x(t)} y={height + lane + 17} textAnchor="middle">
            {Math.round(t * 100)}&#8198;%
          </text>
        ))}
        {upward.map((t) => (
          <text key={t} x={-8} y={y(t) + 4} textAnchor="end">
            {signedPercent(t)}
          </text>
        ))}
        {lane > 0 ? (
          <>
            <line x1={0} x2={width} y1={height + lane} y2={height + lane} stroke="var(--rule)" />
            <text x={-8} y={height + 12} textAnchor="end" fontSize="11" fill="var(--quiet)">
              no rate
            </text>
            <text x={-8} y={height + 24} textAnchor="end" fontSize="11" fill="var(--quiet)">
              yet
            </text>
          </>
        ) : null}
        <text x={6} y={14} className="on-map-svg">
          change a year, in margin
        </text>
        <text x={width} y={height + lane + 37} textAnchor="end">
          margin used by the worst test point
        </text>
      </g>
    </svg>
  );
}

/** What a line of equal time says, near its outer end. */
function Years({
  l,
  x,
  y,
  view,
  width,
  height,
}: {
  l: { years: number; u: number; d: number };
  x: (u: number) => number;
  y: (d: number) => number;
  view: View;
  width: number;
  height: number;
}) {
  const byTop = l.d >= view.top - 1e-9;
  const u = byTop ? l.u : l.u + (view.right - view.left) * 0.045;
  const px = x(u) + (byTop ? 6 : 0);
  const py = byTop ? y(view.top) + 12 : y((1 - u) / l.years) - 6;
  return px < 0 || px > width - 40 || py < 0 || py > height ? null : (
    <text x={px} y={py} className="on-map-svg">
      {l.years === 1 ? '1 year' : `${l.years} years`}
    </text>
  );
}
