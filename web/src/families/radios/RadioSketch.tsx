import type { StepView } from '../../api/types';
import { leadsOf, type Lead } from './leads';
import { useBench } from '../../bench/context';

const ROW = 44;
const TOP = 30;
/** Room for the name of a box below another. */
const NAME = 26;
const WIDTH = 560;
/** Letters of a name that fit into a box. */
const LONGEST = 22;
const DEVICE = { x: 76, width: 104 };
const GEAR = { x: 392, width: 160 };

const INK: Record<Lead['standing'], { colour: string; width: number; dash?: string }> = {
  there: { colour: 'var(--ink)', width: 2 },
  next: { colour: 'var(--lake)', width: 4 },
  later: { colour: 'var(--quiet)', width: 1.5, dash: '5 5' },
};

/** How a radio is connected, the leads to be put on next standing out. */
export function RadioSketch({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const leads = leadsOf(view, step);
  const set = view.gear.find((g) => g.role === 'radio-test-set')?.name;
  const second = leads[0]?.id === 'second';
  const rows = leads.map((lead, i) => ({ lead, y: TOP + ROW / 2 + i * ROW + (second && i > 0 ? NAME : 0) }));
  const inSet = rows.filter((r) => ['rf', 'sound', 'supply'].includes(r.lead.id));
  const bottom = (rows[rows.length - 1]?.y ?? TOP) + ROW / 2;
  const wrong = leads.map((l) => l.wrong).filter((w) => w !== undefined);
  return (
    <figure className="mb-4" data-sketch={leads.map((l) => `${l.id}:${l.standing}`).join(' ')}>
      <svg
        viewBox={`0 0 ${WIDTH} ${Math.max(bottom + 10, TOP + 72)}`}
        className="w-full font-condensed"
        role="img"
        aria-label={`Connections: ${leads.map((l) => `${l.from} ${l.via === undefined ? '' : `through ${l.via} `}to ${l.to}`).join('; ')}`}
      >
        <Antenna y={TOP} />
        <Box x={DEVICE.x} y={TOP - 6} width={DEVICE.width} height={bottom - TOP + 12} name={view.asset.model} />
        {set !== undefined && inSet.length > 0 ? (
          <Box
            x={GEAR.x}
            y={(inSet[0]?.y ?? 0) - ROW / 2 + 3}
            width={GEAR.width}
            height={inSet.length * ROW - 6}
            name={set}
          />
        ) : null}
        {rows.map(({ lead, y }) => (
          <Line
            key={lead.id}
            lead={lead}
            y={y}
            rf={rows.find((r) => r.lead.id === 'rf')?.y ?? y}
            own={!inSet.some((r) => r.lead === lead) || set === undefined}
            combined={second && lead.id === 'rf'}
          />
        ))}
      </svg>
      {wrong.length > 0 ? (
        <figcaption className="expired font-semibold">
          {wrong.join('; ')}. Take an attenuator that is rated for it.
        </figcaption>
      ) : null}
    </figure>
  );
}

/** A name in one line or two, broken near its middle. */
function inLines(name: string): string[] {
  const breaks = [...name.matchAll(/ /g)]
    .map((m) => m.index)
    .sort((a, b) => Math.abs(a - name.length / 2) - Math.abs(b - name.length / 2));
  const at = breaks[0];
  return name.length <= LONGEST || at === undefined ? [name] : [name.slice(0, at), name.slice(at + 1)];
}

function Box({ x, y, width, height, name }: { x: number; y: number; width: number; height: number; name: string }) {
  return (
    <g>
      <rect x={x} y={y} width={width} height={height} fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2" />
      <text x={x + width / 2} y={y - 6} textAnchor="middle" fontSize="16" fontWeight="600" fill="var(--ink)">
        {name}
      </text>
    </g>
  );
}

/** The antenna stays off: nothing goes on the air. */
function Antenna({ y }: { y: number }) {
  return (
    <g stroke="var(--quiet)" strokeWidth="2" fill="none">
      <path d={`M32 ${y + 36} V${y} M18 ${y - 10} L32 ${y + 8} L46 ${y - 10}`} strokeDasharray="4 4" />
      <path d={`M14 ${y - 6} L50 ${y + 32} M50 ${y - 6} L14 ${y + 32}`} stroke="var(--ink)" />
      <text x="32" y={y + 54} textAnchor="middle" fontSize="14" stroke="none" fill="var(--quiet)">
        no antenna
      </text>
    </g>
  );
}

/** @param combined whether the lead of a second generator comes down to it: its words stand below then */
function Line({ lead, y, rf, own, combined }: { lead: Lead; y: number; rf: number; own: boolean; combined: boolean }) {
  const ink = INK[lead.standing];
  const from = DEVICE.x + DEVICE.width;
  const middle = (from + GEAR.x) / 2;
  // A second generator joins the lead of the first at a combiner.
  const joins = lead.id === 'second';
  const path = joins ? `M${GEAR.x} ${y} H${from + 24} V${rf}` : `M${from} ${y} H${GEAR.x}`;
  return (
    <g>
      <path d={path} fill="none" stroke={ink.colour} strokeWidth={ink.width} strokeDasharray={ink.dash} />
      {joins ? <circle cx={from + 24} cy={rf} r="6" fill="var(--sheet)" stroke={ink.colour} strokeWidth="2" /> : null}
      {!joins ? (
        <text x={from - 8} y={y + 5} textAnchor="end" fontSize="16" fill="var(--ink)">
          {lead.from}
        </text>
      ) : null}
      {own ? (
        <rect
          x={GEAR.x}
          y={y - 18}
          width={GEAR.width}
          height="36"
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth="2"
        />
      ) : null}
      {inLines(lead.to).map((words, i, all) => (
        <text
          key={words}
          x={GEAR.x + 8}
          y={y + 5 + (i - (all.length - 1) / 2) * 16}
          fontSize={all.length === 1 ? 16 : 14}
          fill="var(--ink)"
        >
          {words}
        </text>
      ))}
      {lead.via === undefined ? null : joins ? (
        <text x={from + 34} y={y - 6} fontSize="14" fill="var(--quiet)">
          by a {lead.via}
        </text>
      ) : (
        <>
          <rect
            x={middle - 14}
            y={y - 9}
            width="28"
            height="18"
            fill="var(--sheet)"
            stroke={lead.wrong === undefined ? ink.colour : 'var(--brick)'}
            strokeWidth="2"
          />
          <text x={middle} y={combined ? y + 24 : y - 14} textAnchor="middle" fontSize="14" fill="var(--quiet)">
            {lead.via}
          </text>
        </>
      )}
    </g>
  );
}
