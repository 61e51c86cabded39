import { useState, type FormEvent } from 'react';
import { typedNumber } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { useBench } from './context';

const USUAL = '30 68 136 155 174 230 400 435 470 520';

/** What a lead takes off, and to characterise it anew with the test set. */
export function PathDialog({ gear: id, close }: { gear: string; close: () => void }) {
  const bench = useBench();
  const { view, refusal } = bench.ready;
  const gear = view.gear.find((g) => g.id === id);
  const [places, setPlaces] = useState(USUAL);
  const [wrong, setWrong] = useState<string | null>(null);
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    // A comma alone may be a decimal one.
    const numbers = places
      .trim()
      .split(/,?\s+|;\s*/)
      .map((t) => typedNumber(t)?.value ?? NaN);
    if (numbers.some((n) => !Number.isFinite(n))) {
      setWrong('Type frequencies in MHz, with blanks between them.');
      return;
    }
    setWrong(null);
    await bench.driver.characterise(
      id,
      [...new Set(numbers)].sort((a, b) => a - b),
    );
  };
  return (
    <Dialog title={gear?.name ?? 'Lead'} close={close} wide>
      <p className="mb-2 text-quiet">
        Bears {gear?.path?.greatest ?? '?'}&#8198;W. Between these places the loss is linear in dB over the root of
        frequency; beyond them the nearest counts, and the record says so.
      </p>
      <table className="mb-4 border-collapse font-mono" data-path-table>
        <tbody>
          <tr className="border-b border-rule">
            <th className="pr-4 text-left font-sans text-[13px] font-semibold text-quiet">MHz</th>
            {(gear?.path?.loss.points ?? []).map((p) => (
              <td key={p.megahertz} className="px-2 text-right">
                {p.megahertz}
              </td>
            ))}
          </tr>
          <tr>
            <th className="pr-4 text-left font-sans text-[13px] font-semibold text-quiet">dB</th>
            {(gear?.path?.loss.points ?? []).map((p) => (
              <td key={p.megahertz} className="px-2 text-right">
                {p.decibels.toFixed(2)}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      <form onSubmit={(e) => void submit(e)}>
        <label className="block font-semibold" htmlFor="places">
          Characterise it: take it off the device, and connect generator and analyser of the test set by it. Frequencies
          in MHz
        </label>
        <input
          id="places"
          className="mt-1 w-full font-mono"
          value={places}
          onChange={(e) => setPlaces(e.target.value)}
        />
        {wrong !== null || refusal !== null ? (
          <div className="mt-3">
            <Notice>{wrong ?? refusal?.message}</Notice>
          </div>
        ) : null}
        <div className="mt-4 flex gap-3">
          <Button type="submit" disabled={!bench.mayAct || bench.ready.doing !== null}>
            Characterise and save
          </Button>
          <Button weight="primary" onClick={close}>
            Done
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
