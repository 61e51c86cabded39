import type { StepView } from '../../api/types';
import { useBench } from '../../bench/context';
import { pointsOf } from '../../state/steps';
import { withUnit } from '../../state/words';
import { blockOf } from './block';

const WIDTH = 620;
const ROW = 46;
const TOP = 34;

/** The test block of an installation: which secondary is shorted, which link is open, and which to open next. */
export function TestBlock({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const rows = blockOf(view.steps, (id) => pointsOf(view, id));
  const height = TOP + rows.length * ROW + 6;
  return (
    <figure className="mb-4" data-block={rows.map((r) => `${r.lane}:${r.state}`).join(' ')}>
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        className="max-h-[240px] w-full font-condensed"
        role="img"
        aria-label={`Test block: ${rows.map((r) => `${r.lane} ${r.words}`).join('; ')}; at ${step.title}`}
      >
        <text x="60" y="18" fontSize="14" fill="var(--quiet)">
          transformer
        </text>
        <text x="196" y="18" fontSize="14" fill="var(--quiet)">
          short
        </text>
        <text x="292" y="18" fontSize="14" fill="var(--quiet)">
          link
        </text>
        <text x="392" y="18" fontSize="14" fill="var(--quiet)">
          meter side
        </text>
        {rows.map((r, k) => {
          const y = TOP + k * ROW + 14;
          return (
            <g key={r.lane} data-link={r.lane}>
              <text x="8" y={y + 5} fontSize="16" fontWeight="600" fill="var(--ink)">
                {r.lane}
              </text>
              <circle cx="76" cy={y} r="11" fill="none" stroke="var(--ink)" strokeWidth="2" />
              <circle cx="92" cy={y} r="11" fill="none" stroke="var(--ink)" strokeWidth="2" />
              <line x1="103" y1={y} x2="290" y2={y} stroke="var(--ink)" strokeWidth="2.5" />
              <path
                d={`M196,${y} v14 h34 v-14`}
                fill="none"
                stroke={r.isShorted ? 'var(--lake)' : 'var(--rule)'}
                strokeWidth={r.isShorted ? 5 : 2}
                strokeDasharray={r.isShorted ? undefined : '4 4'}
              />
              <circle cx="290" cy={y} r="4" fill="var(--ink)" />
              <circle cx="340" cy={y} r="4" fill="var(--ink)" />
              {r.isOpen ? (
                <line x1="290" y1={y} x2="330" y2={y - 16} stroke="var(--lake)" strokeWidth="4" />
              ) : (
                <line x1="290" y1={y} x2="340" y2={y} stroke="var(--ink)" strokeWidth="4" />
              )}
              {r.isNext ? (
                <rect
                  x="280"
                  y={y - 20}
                  width="70"
                  height="32"
                  fill="none"
                  stroke="var(--lake)"
                  strokeWidth="2"
                  strokeDasharray="5 4"
                />
              ) : null}
              <line x1="340" y1={y} x2="386" y2={y} stroke="var(--ink)" strokeWidth="2.5" />
              <text x="394" y={y + 5} fontSize="15" fill="var(--ink)">
                {r.figure === undefined ? r.words : `${withUnit(r.figure, 'A')}, ${r.words}`}
              </text>
            </g>
          );
        })}
      </svg>
    </figure>
  );
}
