import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { change } from '../api/register';
import { Problem } from '../api/http';
import { useActDone } from '../app/acts';
import { heights, parseRoute, routeCells, routeText, ROUTE_COLUMNS } from '../draw/route';
import { Dialog } from '../ui/Dialog';
import { RouteRibbon } from '../ui/RouteRibbon';
import { Option, Select } from '../ui/Select';
import { useDraft } from '../ui/useDraft';

const HEADS = ['km', 'what', 'name', 'height m', 'slack m', 'position'];
const WIDTHS = ['w-[12%]', 'w-[17%]', 'w-[30%]', 'w-[9%]', 'w-[9%]', 'w-[18%]'];

/** Digits of a distance: to the metre. */
const km = (value: number): string => String(Math.round(Math.max(0, value) * 1000) / 1000);

interface Props {
  text: string;
  kinds: readonly string[];
  set: (text: string) => void;
  wrong?: string | undefined;
}

/** A route as a table and as a line of the land; both change the same text. */
export function RouteTable({ text, kinds, set, wrong }: Props) {
  const cells = routeCells(text);
  const [chosen, choose] = useState<number | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const places = parseRoute(text);
  const ground = heights(places);
  const put = (row: number, column: number, value: string): void =>
    set(routeText(cells.map((r, i) => (i === row ? r.map((c, j) => (j === column ? value : c)) : r))));
  const add = (at: number): void => {
    const next = cells.findIndex((r) => Number((r[0] ?? '').replace(',', '.')) > at);
    const row = [km(at), kinds[1] ?? kinds[0] ?? '', '', '', '', ''];
    const place = next < 0 ? cells.length : next;
    set(routeText([...cells.slice(0, place), row, ...cells.slice(place)]));
    choose(place);
  };
  const last = places[places.length - 1]?.km ?? 0;
  const whole = places.length === cells.length;
  return (
    <div>
      <div className="flex flex-wrap items-center gap-2">
        <button
          type="button"
          className="min-h-11 border border-ink px-3 font-semibold"
          onClick={() => file.current?.click()}
        >
          Read a file
        </button>
        <input
          ref={file}
          type="file"
          accept=".csv,.txt,text/csv,text/plain"
          className="hidden"
          data-route-file
          onChange={(e) => {
            const picked = e.target.files?.[0];
            e.target.value = '';
            void picked?.text().then((t) => set(routeText(routeCells(t))));
          }}
        />
        <button
          type="button"
          className="min-h-11 border border-ink px-3 font-semibold"
          onClick={() => add(chosen === null ? last : (places[chosen]?.km ?? last))}
          data-add-place
        >
          Add a place
        </button>
        <p className="font-condensed text-[14px] text-quiet">
          A table of {ROUTE_COLUMNS.join(', ')}; also pasted into the first cell.
        </p>
      </div>
      {whole && places.length > 1 ? (
        <div className="mt-3 h-[132px] bg-sheet">
          <RouteRibbon
            places={places.map((p, i) => ({ at: p.km, name: p.name, height: ground[i] ?? 0 }))}
            from={0}
            to={last}
            chosen={chosen}
            choose={choose}
            move={(i, to) => {
              const low = places[i - 1]?.km ?? 0;
              const high = places[i + 1]?.km ?? Infinity;
              put(i, 0, km(i === 0 ? 0 : Math.min(high, Math.max(low, to))));
            }}
            add={add}
            label="Route; arrow keys move the chosen place by 10 m"
          />
        </div>
      ) : null}
      {wrong !== undefined ? (
        <p role="alert" className="mt-2 border-l-4 border-ink pl-2 text-[14px]" data-wrong>
          {wrong}
        </p>
      ) : null}
      {cells.length === 0 ? (
        <p className="mt-3 text-quiet">
          No places yet. A route begins and ends with an {kinds[0]}, the near one at 0 km; between them stand{' '}
          {kinds.slice(1).join(', ')}.
        </p>
      ) : (
        <table className="mt-3 w-full border-collapse font-condensed text-[15px]" data-route>
          <thead>
            <tr className="border-b border-ink text-left text-[14px] text-quiet">
              {HEADS.map((h) => (
                <th key={h} className="py-1 pr-2 font-normal">
                  {h}
                </th>
              ))}
              <th>
                <span className="sr-only">take out</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {cells.map((row, i) => (
              <tr key={i} className={`border-b border-rule ${i === chosen ? 'bg-band/50' : ''}`}>
                {row.map((cell, j) => (
                  <td key={j} className={`py-0.5 pr-1 ${WIDTHS[j] ?? ''}`}>
                    {j === 1 && kinds.includes(cell) ? (
                      <Select
                        className="w-full"
                        aria-label={`What stands at place ${i + 1}`}
                        value={cell}
                        onChange={(picked) => put(i, j, picked)}
                      >
                        {kinds.map((k) => (
                          <Option key={k} value={k}>
                            {k}
                          </Option>
                        ))}
                      </Select>
                    ) : (
                      <input
                        className={`min-h-10 w-full min-w-12 px-1.5 ${j === 2 || j === 5 ? '' : 'font-mono text-[14px]'}`}
                        aria-label={`${HEADS[j] ?? ''} of place ${i + 1}`}
                        value={cell}
                        autoComplete="off"
                        onFocus={() => choose(i)}
                        onChange={(e) => put(i, j, e.target.value)}
                        onPaste={(e) => {
                          const pasted = e.clipboardData.getData('text/plain');
                          if (/[\r\n]/.test(pasted.trim())) {
                            e.preventDefault();
                            set(routeText([...cells.slice(0, i), ...routeCells(pasted), ...cells.slice(i + 1)]));
                          }
                        }}
                      />
                    )}
                  </td>
                ))}
                <td>
                  <button
                    type="button"
                    className="min-h-10 px-2 font-semibold text-lake"
                    aria-label={`Take out place ${i + 1}`}
                    onClick={() => {
                      set(routeText(cells.filter((_, k) => k !== i)));
                      choose(null);
                    }}
                  >
                    ✕
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** The route of an asset as it stands in the register; opened, it is changed and saved as one. */
export function RouteValue({
  of,
  field,
  label,
  value,
  kinds,
}: {
  of: string;
  field: string;
  label: string;
  value: string;
  kinds: readonly string[];
}) {
  const [open, setOpen] = useState(false);
  const [draft, write, drop] = useDraft(`register.assets.${of}.${field}`);
  const [text, setText] = useState(draft === '' ? value : draft);
  const done = useActDone();
  const save = useMutation({
    mutationFn: () => change('assets', of, [{ field, was: value, now: text }]),
    onSuccess: (act) => {
      drop();
      setOpen(false);
      done(act);
    },
  });
  const places = parseRoute(value);
  const problem = save.error;
  return (
    <>
      <button
        type="button"
        className="min-h-8 text-left decoration-quiet decoration-dotted underline-offset-4 hover:underline max-[1000px]:min-h-11"
        data-field={field}
        onClick={() => {
          setText(draft === '' ? value : draft);
          save.reset();
          setOpen(true);
        }}
      >
        {places.length === 0 ? 'add' : `${places.length} places, ${km(places[places.length - 1]?.km ?? 0)} km`}
      </button>
      {open ? (
        <Dialog title={`${label}, ${of}`} close={() => setOpen(false)} wide>
          <RouteTable
            text={text}
            kinds={kinds}
            set={(t) => {
              setText(t);
              write(t === value ? '' : t);
            }}
            wrong={
              problem === null
                ? undefined
                : problem instanceof Problem
                  ? (problem.fields[field] ?? problem.message)
                  : problem.message
            }
          />
          <div className="mt-4 flex gap-2">
            <button
              type="button"
              className="min-h-11 border border-lake bg-lake px-4 font-semibold text-on-lake disabled:opacity-50"
              disabled={save.isPending || text === value}
              onClick={() => save.mutate()}
              data-save-route
            >
              {save.isPending ? '…' : 'Save the route'}
            </button>
            <button
              type="button"
              className="min-h-11 px-3 font-semibold text-lake"
              onClick={() => {
                drop();
                setOpen(false);
              }}
            >
              Leave it as it was
            </button>
          </div>
        </Dialog>
      ) : null}
    </>
  );
}
