import { useMemo } from 'react';
import type { CurveView } from '../api/types';
import { apart, logTicks } from '../draw/scale';
import type { Standing } from '../state/steps';
import { figure, withUnit } from '../state/words';
import { Mark } from './Mark';
import { Plot, type Placing, type PlotAxis, type Series } from './Plot';

/** Something that stands in the field: a measured trip, one of before, the limit of the window. */
export interface Measured {
  /** Unique in the field. */
  readonly key: string;
  readonly current: number;
  readonly time: number;
  readonly label: string;
  readonly standing: Standing | 'past';
}

/** What the field is drawn from; where its parts begin is told where they are known. */
type Curve = Pick<CurveView, 'source' | 'outline'> & Partial<Pick<CurveView, 'marks'>>;

interface Props {
  curve: Curve;
  /** Current of the step, A. */
  current: number;
  window: { earliest?: number | undefined; latest?: number | undefined } | null;
  measured: readonly Measured[];
  /** The running test, moving along its current. */
  live: { current: number; elapsed: number } | null;
  lane: string;
  /** Whether each stands at a current of its own, not at that of the step. */
  own?: boolean;
}

const SECONDS = [0.001, 0.01, 0.1, 1, 10, 60, 600, 3600, 36_000];

function timeWords(seconds: number): string {
  if (seconds >= 3600) {
    return withUnit(String(seconds / 3600), 'h');
  }
  if (seconds >= 60) {
    return withUnit(String(seconds / 60), 'min');
  }
  return seconds >= 0.1 ? withUnit(String(seconds), 's') : withUnit(String(seconds * 1000), 'ms');
}

const currentWords = (amperes: number): string =>
  amperes >= 1000 ? withUnit(String(amperes / 1000), 'kA') : String(amperes);

function fields(
  curve: Curve,
  current: number,
  lane: string,
): { x: number[]; series: Series[]; bands: [number, number][]; xAxis: PlotAxis; yAxis: PlotAxis } {
  const points = curve.outline;
  const times = points.flatMap((p) => [p.low, p.high]).filter((t): t is number => t !== undefined);
  const top = Math.min(Math.max(...times) * 1.2, 3600);
  // A lowest time of a millionth of a second stands for "none stated": it is not drawn down to.
  const bottom = Math.max(Math.min(...times.filter((t) => t > 1e-4)) / 2, 0.005);
  const from = Math.min(points[0]?.at ?? current, current) * 0.75;
  const to = Math.max(points[points.length - 1]?.at ?? current, current * 1.3) * 1.05;
  const latest = points.map((p) => p.high ?? (p.low === undefined ? null : top * 10));
  const earliest = points.map((p) => (p.low === undefined ? null : Math.max(p.low, bottom / 10)));
  // The current of the step always has its figure; neighbours that would touch it give way.
  const xTicks = [
    ...logTicks(from, to, to / from > 60 ? [1] : [1, 2, 5]).filter((t) => Math.abs(Math.log(t / current)) > 0.25),
    current,
  ].sort((a, b) => a - b);
  return {
    x: points.map((p) => p.at),
    series: [
      { y: latest, colour: '--pine' },
      { y: earliest, colour: '--pine' },
    ],
    bands: [[0, 1]],
    xAxis: { from, to, log: true, ticks: xTicks, words: currentWords, label: `current in ${lane}, A rms` },
    yAxis: {
      from: bottom,
      to: top,
      log: true,
      ticks: SECONDS.filter((t) => t >= bottom && t <= top),
      words: timeWords,
    },
  };
}

/** The time-current field: the curve, the window of the running test closing in on its point, and what was measured. */
export function TimeCurrentField({ curve, current, window, measured, live, lane, own = false }: Props) {
  const field = useMemo(() => fields(curve, current, lane), [curve, current, lane]);
  return (
    <Plot
      x={field.x}
      series={field.series}
      bands={field.bands}
      xAxis={field.xAxis}
      yAxis={field.yAxis}
      label={`Time-current field of ${curve.source}`}
      over={(place) => (
        <>
          <svg
            className="absolute inset-0 overflow-visible"
            width={place.width}
            height={place.height}
            aria-hidden="true"
          >
            {window ? <WindowEnds place={place} current={current} window={window} /> : null}
            {live && live.elapsed > 0 ? (
              <line
                x1={place.x(live.current)}
                x2={place.x(live.current)}
                y1={place.height}
                y2={Math.min(place.height, place.y(live.elapsed))}
                stroke="var(--ink)"
                strokeWidth="2.5"
              />
            ) : null}
            {live && live.elapsed > 0 ? (
              <circle
                cx={place.x(live.current)}
                cy={Math.min(place.height, place.y(live.elapsed))}
                r="7"
                fill="var(--sheet)"
                stroke="var(--lake)"
                strokeWidth="3.5"
                data-live-point
              />
            ) : null}
          </svg>
          {own ? (
            <OwnSpots place={place} measured={measured} />
          ) : (
            <Labels place={place} current={current} window={window} measured={measured} />
          )}
          {live ? <span className="sr-only">{`Running in ${lane}`}</span> : null}
          <PickUps place={place} curve={curve} bottom={field.yAxis.from} />
        </>
      )}
    />
  );
}

const kiloamperes = (amperes: number): string =>
  amperes >= 1000 ? withUnit(figure(amperes / 1000), 'kA') : withUnit(figure(amperes), 'A');

/** Where elements beside the first begin to act, told beside their fall. */
function PickUps({ place, curve, bottom }: { place: Placing; curve: Curve; bottom: number }) {
  return (curve.marks ?? []).map((e) => {
    const at = e.to ?? e.from;
    const x = place.x(at) + 8;
    return (
      <span
        key={e.label}
        className="halo absolute font-condensed text-[13px] leading-tight whitespace-nowrap"
        style={
          x > place.width - 84
            ? { right: place.width - place.x(e.from) + 8, top: place.y(bottom * 70) }
            : { left: x, top: place.y(bottom * 70) }
        }
      >
        {e.label}
        <br />
        from {kiloamperes(e.from)}
        {e.to === undefined ? null : (
          <>
            <br />
            to {kiloamperes(e.to)}
          </>
        )}
      </span>
    );
  });
}

function WindowEnds({
  place,
  current,
  window,
}: {
  place: Placing;
  current: number;
  window: NonNullable<Props['window']>;
}) {
  const x = place.x(current);
  const ends = [window.earliest, window.latest].filter((t): t is number => t !== undefined && t > 1e-4);
  return (
    <>
      {ends.length === 2 ? (
        <line
          x1={x}
          x2={x}
          y1={place.y(ends[0] ?? 1)}
          y2={place.y(ends[1] ?? 1)}
          stroke="var(--ink)"
          strokeDasharray="2 4"
          strokeWidth="2"
        />
      ) : null}
      {ends.map((t) => (
        <line key={t} x1={x - 12} x2={x + 12} y1={place.y(t)} y2={place.y(t)} stroke="var(--ink)" strokeWidth="2.5" />
      ))}
    </>
  );
}

const LABEL_GAP = 19;
/** Of the width, beyond which words stand to the left of their mark. */
const FAR = 0.72;

/** Marks where they were measured; beside them their words, those of one current beneath each other. */
function OwnSpots({ place, measured }: Pick<Props, 'measured'> & { place: Placing }) {
  const currents = [...new Set(measured.map((m) => m.current))];
  return currents.flatMap((current) => {
    const here = measured.filter((m) => m.current === current);
    const x = place.x(current);
    const tops = apart(
      here.map((m) => place.y(m.time)),
      LABEL_GAP,
    );
    const words = x > FAR * place.width ? { right: place.width - x + 11 } : { left: x + 11 };
    return here.map((m, i) => (
      <span key={m.key}>
        <span
          className="absolute -translate-x-1/2 -translate-y-1/2"
          style={{ left: x, top: place.y(m.time) }}
          aria-hidden="true"
        >
          {m.standing === 'past' ? (
            <span className="block h-[2px] w-[10px] bg-quiet" />
          ) : (
            <Mark standing={m.standing} size={13} />
          )}
        </span>
        <span
          className="absolute -translate-y-1/2 halo px-0.5 font-condensed text-[14px] whitespace-nowrap"
          style={{ ...words, top: tops[i] ?? 0 }}
        >
          {m.label}
        </span>
      </span>
    ));
  });
}

/** Labels right of the current for what was measured now, left of it for the window's ends and for what was before. */
function Labels({
  place,
  current,
  window,
  measured,
}: Pick<Props, 'current' | 'window' | 'measured'> & { place: Placing }) {
  const x = place.x(current);
  const now = measured.filter((m) => m.standing !== 'past');
  const before = measured.filter((m) => m.standing === 'past');
  const ends = [
    ['latest', window?.latest],
    ['earliest', window?.earliest],
  ] as const;
  const right = now.map((m) => ({ key: m.key, time: m.time, words: m.label, standing: m.standing as Standing }));
  const left = [
    ...ends.flatMap(([word, time]) =>
      time !== undefined && time > 1e-4
        ? [{ key: word, time, words: `${word} ${withUnit(figure(time), 's')}`, strong: true }]
        : [],
    ),
    ...before.map((m) => ({ key: m.key, time: m.time, words: m.label, strong: false })),
  ];
  const rights = apart(
    right.map((l) => place.y(l.time)),
    LABEL_GAP,
  );
  const lefts = apart(
    left.map((l) => place.y(l.time)),
    LABEL_GAP,
  );
  return (
    <>
      {right.map((l, i) => (
        <span
          key={l.key}
          className="absolute flex -translate-y-1/2 items-center gap-1.5 font-condensed text-[14px] whitespace-nowrap"
          style={{ left: x + 15, top: rights[i] ?? 0 }}
        >
          <Mark standing={l.standing} size={13} />
          <span className="halo px-0.5">{l.words}</span>
        </span>
      ))}
      {left.map((l, i) => (
        <span
          key={l.key}
          className={`absolute -translate-y-1/2 halo px-0.5 font-condensed text-[14px] whitespace-nowrap ${l.strong ? '' : 'text-quiet'}`}
          style={{ right: place.width - x + 17, top: lefts[i] ?? 0 }}
        >
          {l.words}
        </span>
      ))}
      {before.map((m) => (
        <span
          key={m.key}
          className="absolute h-[2px] w-[10px] -translate-x-[12px] bg-quiet"
          style={{ left: x, top: place.y(m.time) }}
          aria-hidden="true"
        />
      ))}
    </>
  );
}
