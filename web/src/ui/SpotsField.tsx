import { useRef, useState } from 'react';
import { Mark } from './Mark';
import { Shapes } from './PictureField';
import type { Pictured } from './pictured';
import { ABOUT, ownFacts, type Spot } from './spots';
import { Button } from './controls';
import { download } from './download';

/** Side of a picture that is given away, pixels. */
const GIVEN = 1000;

/**
 * A picture with many places alike: all at one look with their numbers and shapes, one of them large. Arrow keys go
 * from one to the next, N to the next that fails, M takes the marks away and brings them back, Escape goes back to all.
 */
export function SpotsField({ capture, spots }: { capture: Pictured; spots: readonly Spot[] }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [last, setLast] = useState<string | null>(null);
  const [marked, setMarked] = useState(true);
  const field = useRef<HTMLDivElement>(null);
  const spot = spots.find((s) => s.number === chosen);
  const failing = spots.filter((s) => s.standing !== 'pass');
  const choose = (number: string | null): void => {
    setChosen(number);
    if (number !== null) {
      setLast(number);
    }
  };
  const at = spots.findIndex((s) => s.number === (chosen ?? last));
  const nextFailing = (): void => {
    const after = spots.slice(at + 1).find((s) => s.standing !== 'pass') ?? failing[0];
    if (after !== undefined) {
      choose(after.number);
    }
  };
  const key = (e: React.KeyboardEvent): void => {
    if (e.ctrlKey || e.metaKey || e.altKey) {
      return;
    }
    const step = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
    if (step !== undefined) {
      choose(spots[Math.max(0, Math.min(spots.length - 1, at + step))]?.number ?? null);
    } else if (e.key === 'n' || e.key === 'N') {
      nextFailing();
    } else if (e.key === 'm' || e.key === 'M') {
      setMarked(!marked);
    } else if (e.key === 'Escape' && chosen !== null) {
      setChosen(null);
    } else {
      return;
    }
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <div
      ref={field}
      role="group"
      aria-label={`${capture.name}: ${String(spots.length)} places, ${String(failing.length)} not in order. Arrow keys, N for the next that fails, Escape for all.`}
      tabIndex={0}
      onKeyDown={key}
      data-spots={spots.length}
      data-chosen={chosen ?? ''}
      className="flex h-full min-h-0 flex-col gap-2 focus-visible:outline-2 focus-visible:outline-lake"
    >
      <All capture={capture} spots={spots} chosen={chosen ?? last} choose={choose} large={spot === undefined} />
      <div className="flex flex-wrap items-center gap-3 px-1 font-condensed text-[15px]">
        <Button disabled={failing.length === 0} onClick={nextFailing}>
          Next that fails
        </Button>
        {spot === undefined ? null : (
          <>
            <Button onClick={() => setChosen(null)}>All</Button>
            <Button onClick={() => setMarked(!marked)} aria-pressed={marked}>
              {marked ? 'Without marks' : 'With marks'}
            </Button>
            <Button onClick={() => void given(capture, spot, marked)}>Save as picture</Button>
          </>
        )}
        <span className="text-quiet">
          {failing.length === 0
            ? `all ${String(spots.length)} in order`
            : `${String(failing.length)} of ${String(spots.length)} not in order`}
        </span>
      </div>
      {spot === undefined ? (
        <Failing failing={failing} choose={choose} />
      ) : (
        <Large capture={capture} spot={spot} marked={marked} />
      )}
    </div>
  );
}

/** All places on their picture, each with its number and shape. */
function All({
  capture,
  spots,
  chosen,
  choose,
  large,
}: {
  capture: Pictured;
  spots: readonly Spot[];
  chosen: string | null;
  choose: (number: string) => void;
  large: boolean;
}) {
  const width = Number(capture.facts['width'] ?? 100);
  const height = Number(capture.facts['height'] ?? 100);
  return (
    <div
      className={`relative w-full shrink-0 ${large ? 'max-h-[55%]' : 'max-h-[34%]'}`}
      style={{ aspectRatio: `${String(width)} / ${String(height)}` }}
    >
      <svg
        viewBox={`0 0 ${String(width)} ${String(height)}`}
        preserveAspectRatio="xMidYMid meet"
        className="absolute inset-0 h-full w-full"
      >
        <image href={`/api/blobs/${capture.sha256}`} width={width} height={height} />
        {spots.map((s) => (
          <g
            key={s.number}
            onClick={() => choose(s.number)}
            className="cursor-pointer"
            data-spot={s.number}
            data-standing={s.standing}
          >
            <title>{`${s.number}${s.why === '' ? '' : `: ${s.why}`}`}</title>
            <circle
              cx={s.x}
              cy={s.y}
              r={1.3 * s.r}
              fill="transparent"
              stroke={s.number === chosen ? 'var(--lake)' : 'none'}
              strokeWidth={0.14 * s.r}
            />
            <g transform={`translate(${String(s.x)} ${String(s.y + 1.02 * s.r)}) scale(${String((0.62 * s.r) / 8)})`}>
              <rect x={-20} y={-2} width={40} height={20} rx={3} fill="var(--sheet)" />
              <g transform="translate(-18 0)">
                <Mark standing={s.standing} size={16} silent />
              </g>
              <text x={8} y={14} fontSize={15} fontWeight={600} fill="var(--ink)" textAnchor="middle">
                {s.number}
              </text>
            </g>
          </g>
        ))}
      </svg>
    </div>
  );
}

/** Those that are not in order, each with why. */
function Failing({ failing, choose }: { failing: readonly Spot[]; choose: (number: string) => void }) {
  return (
    <ul className="min-h-0 flex-1 overflow-auto px-1">
      {failing.map((s) => (
        <li key={s.number}>
          <button
            type="button"
            onClick={() => choose(s.number)}
            className="flex min-h-11 w-full items-center gap-3 border-b border-rule text-left"
          >
            <Mark standing={s.standing} />
            <b className="w-8 font-mono text-[17px] font-semibold">{s.number}</b>
            <span className="font-condensed text-[15px]">{s.why}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** One place, as large as there is room. */
function Large({ capture, spot, marked }: { capture: Pictured; spot: Spot; marked: boolean }) {
  const width = Number(capture.facts['width'] ?? 100);
  const height = Number(capture.facts['height'] ?? 100);
  const side = 2 * ABOUT * spot.r;
  return (
    <div className="flex min-h-0 flex-1 gap-4" data-large={spot.number}>
      <svg
        viewBox={`${String(spot.x - side / 2)} ${String(spot.y - side / 2)} ${String(side)} ${String(side)}`}
        className="aspect-square h-full min-h-0 max-w-[66%] bg-sheet"
        preserveAspectRatio="xMidYMid meet"
        role="img"
        aria-label={`${spot.number}: ${spot.why === '' ? 'in order' : spot.why}`}
      >
        <image href={`/api/blobs/${capture.sha256}`} width={width} height={height} />
        {marked ? <Shapes capture={ownFacts(capture, spot)} unit={side} /> : null}
      </svg>
      <div className="min-w-40 flex-1 overflow-auto">
        <p className="flex items-center gap-2">
          <Mark standing={spot.standing} />
          <b className="font-mono text-[34px] leading-none font-semibold">{spot.number}</b>
        </p>
        <p className="mt-2 font-condensed text-[16px] leading-snug">{spot.why === '' ? 'in order' : spot.why}</p>
        <Found capture={ownFacts(capture, spot)} />
      </div>
    </div>
  );
}

/** What was found there, in words. */
function Found({ capture }: { capture: Pictured }) {
  const found = Object.entries(capture.facts)
    .filter(([name]) => name.startsWith('#box '))
    .map(([name, value]) => ({ name, bad: value.split(' ')[4] === 'bad', words: value.split(' ').slice(5).join(' ') }));
  return (
    <ul className="mt-3 font-condensed text-[14px] text-quiet">
      {found.map((f) => (
        <li key={f.name} className={f.bad ? 'font-semibold text-brick' : ''}>
          {f.words}
        </li>
      ))}
    </ul>
  );
}

/** One place as a file: as it is seen, with or without what is drawn over it. */
async function given(capture: Pictured, spot: Spot, marked: boolean): Promise<void> {
  const image = new Image();
  image.src = `/api/blobs/${capture.sha256}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = GIVEN;
  canvas.height = GIVEN;
  const pen = canvas.getContext('2d');
  if (pen === null) {
    return;
  }
  const scale = GIVEN / (2 * ABOUT * spot.r);
  const place = (x: number, y: number): [number, number] => [
    (x - spot.x) * scale + GIVEN / 2,
    (y - spot.y) * scale + GIVEN / 2,
  ];
  pen.setTransform(scale, 0, 0, scale, GIVEN / 2 - spot.x * scale, GIVEN / 2 - spot.y * scale);
  pen.drawImage(image, 0, 0);
  pen.setTransform(1, 0, 0, 1, 0, 0);
  if (marked) {
    const width = Number(capture.facts['width'] ?? 100);
    const style = getComputedStyle(document.body);
    pen.lineWidth = 3;
    pen.font = '600 28px sans-serif';
    Object.entries(ownFacts(capture, spot).facts).forEach(([name, value]) => {
      const parts = value.split(' ');
      const [a = 0, b = 0, c = 0, d = 0] = parts.slice(0, 4).map((v) => Number(v) * width);
      if (name.startsWith('#ring ')) {
        const [x, y] = place(a, b);
        pen.strokeStyle = style.getPropertyValue('--lake');
        pen.beginPath();
        pen.arc(x, y, c * scale, 0, 2 * Math.PI);
        pen.stroke();
      } else if (name.startsWith('#box ')) {
        const [x, y] = place(a, b);
        const bad = parts[4] === 'bad';
        pen.strokeStyle = style.getPropertyValue(bad ? '--brick' : '--quiet');
        pen.strokeRect(x - 6, y - 6, (c - a) * scale + 12, (d - b) * scale + 12);
        if (bad) {
          pen.fillStyle = style.getPropertyValue('--brick');
          pen.fillText(parts.slice(5).join(' '), Math.min(x, GIVEN - 240), Math.max(30, y - 14));
        }
      }
    });
  }
  const file = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
  if (file !== null) {
    download(`${capture.name} ${spot.number}.png`, file);
  }
}
