import { nextAt, pointsOf, standingOf } from '../../state/steps';
import { Key } from '../../ui/controls';
import { Mark } from '../../ui/Mark';
import { useBench } from '../context';
import { Option, Select } from '../../ui/Select';

const ANSWERS = [
  ['inOrder', 'In order', '1'],
  ['defect', 'Defect, usable', '2'],
  ['notInOrder', 'Not in order', '3'],
] as const;

/** A question in large type with three answers; below it the answers given. */
export function InspectionStage() {
  const bench = useBench();
  const { view } = bench.ready;
  const points = pointsOf(view, bench.step.id);
  const next = nextAt(view, bench.step);
  const asked = next.kind === 'answer' ? next.point : undefined;
  const answer = (key: string): string => {
    const given = view.answers.find((a) => a.point === key);
    return given === undefined
      ? ''
      : `${ANSWERS.find(([a]) => a === given.answer)?.[1] ?? given.answer}${given.words === undefined ? '' : `: ${given.words}`}`;
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col overflow-y-auto px-8 py-6">
      {asked !== undefined ? (
        <section aria-label="Question" className="flex flex-1 flex-col justify-center pb-6">
          <p className="font-condensed text-[15px] text-quiet">
            {points.indexOf(asked) + 1} of {points.length}
            {asked.required ? '' : ', if there is one'}
          </p>
          <p className="mt-1 text-[32px] leading-tight font-semibold">{asked.name}</p>
          <div className="mt-6 grid grid-cols-3 gap-3">
            {ANSWERS.map(([value, words, key]) => (
              <button
                key={value}
                type="button"
                disabled={!bench.mayAct || bench.ready.doing !== null}
                className="inline-flex min-h-16 items-center justify-center gap-3 rounded-xs border border-ink bg-sheet px-2 text-[17px] leading-tight font-semibold disabled:border-rule disabled:text-quiet"
                onClick={() =>
                  value === 'inOrder'
                    ? void bench.driver.act(
                        'Answering',
                        'answerGiven',
                        { step: bench.step.id, point: asked.point, lane: asked.lane, answer: value },
                        bench.step.id,
                      )
                    : bench.ask({ kind: 'answer', point: asked, answer: value })
                }
              >
                {words} <Key>{key}</Key>
              </button>
            ))}
          </div>
        </section>
      ) : (
        <p className="pb-4 text-lg">All answered. An answer is changed by giving another one.</p>
      )}
      <ul>
        {points.map((p) => (
          <li key={p.key} className="flex min-h-11 items-center gap-3 border-t border-rule py-1.5">
            <Mark standing={standingOf(view, p)} />
            <span className="flex-1">{p.name}</span>
            <span className="font-condensed text-quiet">{answer(p.key)}</span>
            {p.counting !== undefined && bench.mayAct ? (
              <Select
                aria-label={`Change the answer: ${p.name}`}
                className="w-24 !h-9 font-condensed"
                value=""
                onChange={(picked) => {
                  const value = picked;
                  if (value === 'inOrder') {
                    void bench.driver.act('Answering', 'answerGiven', {
                      step: p.step,
                      point: p.point,
                      lane: p.lane,
                      answer: value,
                    });
                  } else if (value === 'defect' || value === 'notInOrder') {
                    bench.ask({ kind: 'answer', point: p, answer: value });
                  }
                }}
              >
                <Option value="">Change…</Option>
                {ANSWERS.map(([value, words]) => (
                  <Option key={value} value={value}>
                    {words}
                  </Option>
                ))}
              </Select>
            ) : null}
          </li>
        ))}
      </ul>
    </div>
  );
}
