import { useEffect, useState } from 'react';
import { Problem } from '../api/http';
import { change } from '../api/register';
import { hasDataPort } from '../state/steps';
import { Button, Notice } from '../ui/controls';
import { useBench } from './context';

/** Runs whose device was asked by this page. */
const asked = new Set<string>();

/** What the device says of itself over its data port, beside the register. */
export function DevicePanel() {
  const bench = useBench();
  const { view } = bench.ready;
  const [problem, setProblem] = useState<string | null>(null);
  const [taken, setTaken] = useState<string[]>([]);
  const asks = hasDataPort(view);
  const quiet = bench.ready.doing === null;
  useEffect(() => {
    // Once for a run on this page: a port that stays silent is not asked again and again.
    if (asks && quiet && bench.mayAct && view.identified === undefined && !asked.has(bench.ready.run)) {
      asked.add(bench.ready.run);
      void bench.driver.askDevice();
    }
  }, [asks, quiet, bench, view.identified]);
  if (!asks) {
    return null;
  }
  const take = async (field: string, was: string, now: string): Promise<void> => {
    setProblem(null);
    try {
      await change('assets', view.asset.asset, [{ field, was, now }]);
      setTaken([...taken, field]);
    } catch (e) {
      setProblem(e instanceof Problem ? e.message : String(e));
    }
  };
  return (
    <div className="mt-4" data-device>
      <Button disabled={!bench.mayAct || bench.ready.doing !== null} onClick={() => void bench.driver.askDevice()}>
        {view.device === undefined ? 'Read it over the data port' : 'Read it again'}
      </Button>
      {view.device !== undefined ? (
        <table className="mt-3 w-full max-w-2xl border-collapse">
          <thead>
            <tr className="text-left text-[13px] text-quiet">
              <th className="py-1 font-semibold" />
              <th className="py-1 font-semibold">Device</th>
              <th className="py-1 font-semibold">Register</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {view.compared.map((c) => (
              <tr key={c.what} className="border-t border-rule" data-same={c.same}>
                <th scope="row" className="py-1.5 pr-3 text-left font-condensed font-medium text-quiet">
                  {c.what}
                </th>
                <td className="py-1.5 pr-3 font-semibold">{c.device ?? 'not there'}</td>
                <td className={`py-1.5 pr-3 ${c.same ? 'text-quiet' : 'expired'}`}>{c.register ?? 'nothing'}</td>
                <td className="py-1 text-right">
                  {!c.same && c.field !== undefined && c.device !== undefined ? (
                    taken.includes(c.field) ? (
                      <span className="font-condensed text-quiet">taken over</span>
                    ) : (
                      <Button onClick={() => void take(c.field ?? '', c.register ?? '', c.device ?? '')}>
                        Into the register
                      </Button>
                    )
                  ) : null}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {problem !== null ? (
        <div className="mt-2">
          <Notice>{problem}</Notice>
        </div>
      ) : null}
    </div>
  );
}
