import { useEffect, useRef, useState, type ReactNode } from 'react';
import uPlot from 'uplot';
import { linearTicks, logTicks, type Axis } from '../draw/scale';
import { useFieldSize } from './useFieldSize';

/** A line, or a set of points, over the plot's common x. */
export interface Series {
  readonly y: ArrayLike<number | null>;
  /** CSS variable of its colour: `--pine`. */
  readonly colour: string;
  readonly width?: number;
  readonly dash?: readonly number[];
  /** Whether the line goes on over places where it has no value: those of other lines. */
  readonly spans?: boolean;
  /** Dots without a line between them, full or hollow; absent for a line. */
  readonly dots?: 'full' | 'hollow';
}

export interface PlotAxis extends Axis {
  readonly ticks?: readonly number[];
  readonly words?: (value: number) => string;
  readonly label?: string;
  /** What its figures take, px; absent for what they need. Plots beneath each other have the same. */
  readonly room?: number;
}

interface Props {
  x: ArrayLike<number>;
  series: readonly Series[];
  /** Pairs of series, upper and lower, between which the band colour is filled. */
  bands?: readonly (readonly [number, number])[];
  xAxis: PlotAxis;
  yAxis: PlotAxis;
  /** What stands over the drawing; gets the place of a value in px within the plotting area, and its size. */
  over?: (place: Placing) => ReactNode;
  label: string;
}

export interface Placing {
  x(value: number): number;
  y(value: number): number;
  readonly width: number;
  readonly height: number;
}

const paint = (variable: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(variable).trim();

function axis(side: 0 | 3 | 2 | 1, given: PlotAxis): uPlot.Axis {
  const ticks = [
    ...(given.ticks ?? (given.log ? logTicks(given.from, given.to) : linearTicks(given.from, given.to, 6))),
  ];
  return {
    side,
    scale: side === 2 || side === 0 ? 'x' : 'y',
    splits: () => ticks,
    filter: (_, splits) => splits,
    values: (_, splits) => splits.map((v) => given.words?.(v) ?? String(v)),
    stroke: () => paint('--ink'),
    grid: { stroke: () => paint('--rule'), width: 1 },
    ticks: { show: false },
    font: '12px "IBM Plex Sans"',
    size:
      given.room !== undefined
        ? given.room
        : side === 3
          ? Math.max(58, 22 + 7 * Math.max(...ticks.map((t) => (given.words?.(t) ?? String(t)).length)))
          : given.label === undefined
            ? 28
            : 46,
    gap: 8,
  };
}

function options(props: Props, width: number, height: number, drawn: (u: uPlot) => void): uPlot.Options {
  const scale = (given: PlotAxis): uPlot.Scale => ({
    time: false,
    auto: false,
    range: [given.from, given.to],
    distr: given.log ? 3 : 1,
  });
  return {
    width,
    height,
    padding: [10, 10, 0, 0],
    // Lines stand where they are, not on whole pixels: a slope would become a staircase.
    pxAlign: false,
    legend: { show: false },
    cursor: { show: false },
    select: { show: false, left: 0, top: 0, width: 0, height: 0 },
    scales: { x: scale(props.xAxis), y: scale(props.yAxis) },
    axes: [axis(2, props.xAxis), axis(3, props.yAxis)],
    series: [
      {},
      ...props.series.map((s): uPlot.Series => ({
        stroke: () => paint(s.colour),
        width: s.width ?? 1.5,
        points:
          s.dots === undefined
            ? { show: false }
            : {
                show: true,
                size: s.dots === 'full' ? 3 : 4.5,
                width: s.dots === 'full' ? 0 : 1,
                fill: () => (s.dots === 'full' ? paint(s.colour) : 'transparent'),
              },
        ...(s.dots === undefined ? {} : { paths: () => null }),
        spanGaps: s.spans ?? false,
        pxAlign: 0,
        ...(s.dash === undefined ? {} : { dash: [...s.dash] }),
      })),
    ],
    bands: (props.bands ?? []).map(([upper, lower]) => ({
      series: [upper + 1, lower + 1],
      fill: () => paint('--band'),
    })),
    hooks: { draw: [drawn] },
  };
}

/**
 * The one plot. Canvas for lines and bands (100,000 points are drawn without thinning by hand), page elements over
 * it for
 * marks and labels, so that they are text, keep their shape and follow the scheme.
 */
export function Plot(props: Props) {
  const [box, size, scheme] = useFieldSize(40);
  const plot = useRef<uPlot | null>(null);
  const [placing, setPlacing] = useState<(Placing & { left: number; top: number }) | null>(null);
  const { x, series, bands, xAxis, yAxis } = props;

  useEffect(() => {
    const into = box.current;
    if (into === null || size === null) {
      return undefined;
    }
    const drawn = (u: uPlot): void => {
      const ratio = uPlot.pxRatio;
      setPlacing({
        x: (value) => u.valToPos(value, 'x'),
        y: (value) => u.valToPos(value, 'y'),
        left: u.bbox.left / ratio,
        top: u.bbox.top / ratio,
        width: u.bbox.width / ratio,
        height: u.bbox.height / ratio,
      });
    };
    const data = [x, ...series.map((s) => s.y)] as uPlot.AlignedData;
    const made = new uPlot(
      options(
        { x, series, xAxis, yAxis, label: '', ...(bands === undefined ? {} : { bands }) },
        size.width,
        size.height,
        drawn,
      ),
      data,
      into,
    );
    plot.current = made;
    return () => made.destroy();
  }, [box, x, series, bands, xAxis, yAxis, size, scheme]);

  return (
    <div className="relative h-full min-h-0 w-full" role="img" aria-label={props.label}>
      <div ref={box} className="absolute inset-0" />
      {placing ? (
        <div
          className="absolute"
          style={{ left: placing.left, top: placing.top, width: placing.width, height: placing.height }}
        >
          {props.over?.(placing)}
          {xAxis.label !== undefined ? (
            <span className="absolute right-0 -bottom-[46px] text-xs whitespace-nowrap">{xAxis.label}</span>
          ) : null}
        </div>
      ) : null}
    </div>
  );
}
