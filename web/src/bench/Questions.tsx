import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState, type FormEvent, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { allGear, storePhoto } from '../api/calls';
import { Problem } from '../api/http';
import { stoppedBy, touchedBy } from '../state/steps';
import { dayWithYear, within } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { useDraft } from '../ui/useDraft';
import { useBench, type Asked, type Bench } from './context';
import { familyOf, useFamilies } from './family';
import { PathDialog } from './PathDialog';
import { SaveVariantDialog } from './SaveVariantDialog';
import { SettingsDialog } from './SettingsDialog';

type Close = () => void;

/** The question that stands over the page, if one does. */
export function Questions({ asked, close }: { asked: Asked; close: Close }) {
  const bench = useBench();
  const cooling = familyOf(useFamilies(), bench.ready.view)?.cooling;
  const go = useNavigate();
  switch (asked.kind) {
    case 'note':
      return (
        <Words
          title="Note"
          draft="note"
          label="What is worth knowing later"
          send="Keep the note"
          close={close}
          act={(words) => bench.driver.act('Keeping the note', 'note', { text: words })}
        />
      );
    case 'photo':
      return <Photo file={asked.file} close={close} />;
    case 'void':
      return <Void attempt={asked.attempt} label={asked.label} close={close} />;
    case 'adjust':
      return <Adjust asked={asked} close={close} />;
    case 'settle':
      return (
        <Words
          title={asked.device ? 'It is the device' : 'It was the connection'}
          draft={`settle.${asked.attempt}`}
          label="How you know"
          send={asked.device ? 'Let it count' : 'Measure again'}
          close={close}
          act={(words) =>
            bench.driver.act('Settling', 'attemptSettled', { attempt: asked.attempt, device: asked.device, words })
          }
        >
          <p className="mb-3 text-quiet">
            {asked.device
              ? 'The connection is good, so what was measured, or not found, is the device: it counts, and fails where nothing was there.'
              : 'What was measured does not count. Mend the connection and measure again.'}
          </p>
        </Words>
      );
    case 'moved':
      return (
        <Words
          title="The set-up was moved"
          draft="moved"
          label="What was moved or changed"
          send="Take references anew"
          close={close}
          act={(words) => bench.driver.act('Recording', 'setupMoved', { words })}
        >
          <p className="mb-3 text-quiet">
            References taken until now no longer hold. What was measured with them stays as it is.
          </p>
        </Words>
      );
    case 'decide':
      return asked.goOn ? (
        <Words
          title={`Go on after: ${asked.failed.title}`}
          draft={`goOn.${asked.failed.id}`}
          label="Why it is worth going on"
          send="Go on"
          close={close}
          act={(words) => bench.driver.act('Deciding', 'wentOn', { after: asked.failed.id, reason: words })}
        >
          <p className="mb-3 text-quiet">What failed stays failed. The reason is printed on the record.</p>
        </Words>
      ) : (
        <Words
          title={`Stop after: ${asked.failed.title}`}
          draft={`stop.${asked.failed.id}`}
          label="Why it ends here"
          send="Stop here"
          close={close}
          act={async (words) => {
            for (const step of stoppedBy(bench.ready.view, asked.failed.id)) {
              if (!(await bench.driver.act('Stopping', 'stepSkipped', { step: step.id, reason: words }))) {
                return false;
              }
            }
            return true;
          }}
        >
          <p className="mb-3 text-quiet">
            What was to follow is left out, with this reason: the record is filed with what was found.
          </p>
        </Words>
      );
    case 'skip':
      return (
        <Words
          title={`Skip: ${asked.step.title}`}
          draft={`skip.${asked.step.id}`}
          label="Why it is not done"
          send="Skip the step"
          close={close}
          act={(words) => bench.driver.act('Skipping', 'stepSkipped', { step: asked.step.id, reason: words })}
        >
          <p className="mb-3 text-quiet">
            A required step that is skipped leaves the run incomplete: it will not pass, and the job stays partly done.
          </p>
        </Words>
      );
    case 'cool':
      return (
        <Words
          title="Go on before it has cooled"
          draft="cool"
          label="Why"
          send="Go on now"
          close={close}
          act={(words) => bench.driver.act('Overruling', 'coolingOverruled', { reason: words })}
        >
          <p className="mb-3 text-quiet">
            {cooling ?? 'A warm device reads another value.'} The reason is printed on the record.
          </p>
        </Words>
      );
    case 'abort':
      return (
        <Words
          title="Give this run up"
          draft="abort"
          first={asked.reason}
          label="Why"
          send="Give it up"
          close={close}
          act={async (words) => {
            const done = await bench.driver.abort(words);
            if (done) {
              void go('/round');
            }
            return done;
          }}
        >
          <p className="mb-3">
            The run ends without a record. Its{' '}
            {bench.ready.view.readings.length === 1
              ? 'one reading stays'
              : `${bench.ready.view.readings.length} readings stay`}{' '}
            in the history of the asset but count for nothing; the job is open again.
          </p>
        </Words>
      );
    case 'answer':
      return (
        <Words
          title={asked.answer === 'defect' ? `Defect: ${asked.point.name}` : `Not in order: ${asked.point.name}`}
          draft={`answer.${asked.point.key}`}
          label="What you see"
          send={asked.answer === 'defect' ? 'Answer "defect"' : 'Answer "not in order"'}
          close={close}
          act={(words) =>
            bench.driver.act(
              'Answering',
              'answerGiven',
              { step: asked.point.step, point: asked.point.point, lane: asked.point.lane, answer: asked.answer, words },
              asked.point.step,
            )
          }
        />
      );
    case 'settings':
      return <SettingsDialog close={close} />;
    case 'saveVariant':
      return <SaveVariantDialog close={close} />;
    case 'path':
      return <PathDialog gear={asked.gear} close={close} />;
    case 'told':
      return (
        <Dialog title="What failed last time" close={close}>
          <p className="mb-4">{asked.words}</p>
          <Button weight="primary" onClick={close}>
            Close
          </Button>
        </Dialog>
      );
    case 'gear':
      return <OtherGear need={asked.need} close={close} />;
  }
}

function Refused({ bench }: { bench: Bench }) {
  const problem = bench.ready.refusal;
  return problem === null ? null : (
    <div className="mt-3">
      <Notice>{problem.message}</Notice>
    </div>
  );
}

interface WordsProps {
  title: string;
  /** Under what the words are kept until they are sent. */
  draft: string;
  /** What stands there at first. */
  first?: string;
  label: string;
  send: string;
  close: Close;
  act: (words: string) => Promise<boolean>;
  children?: ReactNode;
  /** Whether anything else is missing. */
  incomplete?: boolean;
}

function Words({ title, draft, first = '', label, send, close, act, children, incomplete = false }: WordsProps) {
  const bench = useBench();
  const [kept, write, clear] = useDraft(`${bench.ready.run}.${draft}`);
  const [touched, setTouched] = useState(kept !== '');
  const words = touched ? kept : first;
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    if (await act(words.trim())) {
      clear();
      close();
    }
  };
  return (
    <Dialog title={title} close={close}>
      <form onSubmit={(e) => void submit(e)}>
        {children}
        <label className="block font-semibold" htmlFor="words">
          {label}
        </label>
        <textarea
          id="words"
          autoFocus
          rows={3}
          maxLength={4000}
          className="mt-1 w-full py-2"
          value={words}
          onChange={(e) => {
            setTouched(true);
            write(e.target.value);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
              e.currentTarget.form?.requestSubmit();
            }
          }}
        />
        <Refused bench={bench} />
        <div className="mt-4 flex items-center gap-3">
          <Button
            weight="primary"
            type="submit"
            disabled={words.trim() === '' || incomplete || bench.ready.doing !== null}
          >
            {send}
          </Button>
          <Button onClick={close}>Cancel</Button>
          <span className="font-condensed text-[14px] text-quiet">Ctrl Enter sends</span>
        </div>
      </form>
    </Dialog>
  );
}

function Photo({ file, close }: { file: File; close: Close }) {
  const bench = useBench();
  const [problem, setProblem] = useState<string | null>(null);
  const url = useMemo(() => URL.createObjectURL(file), [file]);
  useEffect(() => () => URL.revokeObjectURL(url), [url]);
  const keep = async (words: string): Promise<boolean> => {
    setProblem(null);
    try {
      const stored = await storePhoto(file);
      return await bench.driver.act('Keeping the photo', 'photo', {
        blob: stored.sha256,
        mediaType: stored.mediaType,
        ...(words === '' ? {} : { words }),
      });
    } catch (e) {
      setProblem(e instanceof Problem ? e.message : String(e));
      return false;
    }
  };
  return (
    <Words
      title="Photo"
      draft="photo"
      first={`Set-up at ${within(bench.step.title)}`}
      label="What it shows"
      send="Keep the photo"
      close={close}
      act={keep}
    >
      <img src={url} alt="The photo to be kept" className="mb-3 max-h-64 w-full bg-sheet object-contain" />
      {problem === null ? null : (
        <div className="mb-3">
          <Notice>{problem}</Notice>
        </div>
      )}
    </Words>
  );
}

const VOID_REASONS = [
  ['lead', 'Lead or clamp'],
  ['range', 'Range or setting of the gear'],
  ['temperature', 'Temperature missing or wrong'],
  ['disturbance', 'Disturbance from outside'],
  ['wrongLane', 'Connected to the wrong place'],
  ['otherSetup', 'Another fault of the set-up'],
] as const;

function Void({ attempt, label, close }: { attempt: string; label: string; close: Close }) {
  const bench = useBench();
  const [reason, setReason] = useState<string | null>(null);
  return (
    <Words
      title={`Void: ${label}`}
      draft={`void.${attempt}`}
      label="What was wrong with the set-up"
      send="Void the attempt"
      close={close}
      incomplete={reason === null}
      act={(words) => bench.driver.act('Voiding', 'attemptVoided', { attempt, reason, words })}
    >
      <p className="mb-3 text-quiet">
        An attempt is voided for a fault of the set-up, never for its value. It stays in the record, struck through,
        with the reason.
      </p>
      <fieldset className="mb-3">
        <legend className="font-semibold">Fault of the set-up</legend>
        {VOID_REASONS.map(([value, words]) => (
          <label key={value} className="flex min-h-9 items-center gap-3">
            <input
              type="radio"
              name="reason"
              value={value}
              checked={reason === value}
              onChange={() => setReason(value)}
            />
            {words}
          </label>
        ))}
      </fieldset>
    </Words>
  );
}

function Adjust({ asked, close }: { asked: Extract<Asked, { kind: 'adjust' }>; close: Close }) {
  const bench = useBench();
  const { view } = bench.ready;
  const touched = touchedBy(view, asked.point).filter((p) => p.counting !== undefined || p.key === asked.point.key);
  const [points, setPoints] = useState<string[]>(() => touched.map((p) => p.key));
  return (
    <Words
      title={`Adjusted or repaired: ${asked.point.label}`}
      draft="adjust"
      label="What was done"
      send="Record it"
      close={close}
      incomplete={points.length === 0}
      act={(words) => bench.driver.act('Recording', 'adjustmentMade', { points, what: words })}
    >
      <p className="mb-3 text-quiet">
        What was measured until now stays as found. The next attempts at these points are as left.
      </p>
      <fieldset className="mb-3">
        <legend className="font-semibold">What it touches, and is to be measured again</legend>
        {touched.map((p) => (
          <label key={p.key} className="flex min-h-9 items-center gap-3">
            <input
              type="checkbox"
              checked={points.includes(p.key)}
              onChange={(e) =>
                setPoints((was) => (e.target.checked ? [...was, p.key] : was.filter((k) => k !== p.key)))
              }
            />
            {p.label}
          </label>
        ))}
      </fieldset>
    </Words>
  );
}

function OtherGear({ need, close }: { need: string; close: Close }) {
  const bench = useBench();
  const { view } = bench.ready;
  const all = useQuery({ queryKey: ['gear'], queryFn: allGear });
  const role = view.needs.find((n) => n.id === need)?.role;
  const present = view.gear.find((g) => g.need === need);
  const today = new Date().toLocaleDateString('sv');
  return (
    <Dialog title="Take other gear" close={close}>
      <p className="text-quiet">{view.needs.find((n) => n.id === need)?.needs}</p>
      {all.isPending ? <p className="mt-3">Asking the stores…</p> : null}
      {all.isError ? <Notice>{all.error.message}</Notice> : null}
      <ul className="mt-3">
        {(all.data ?? [])
          .filter((g) => g.role === role)
          .map((g) => {
            const holds = g.calibratedTo !== undefined && g.calibratedTo >= today;
            return (
              <li key={g.id} className="flex items-center gap-3 border-b border-rule py-2">
                <span className="flex-1">
                  <b className="font-semibold">{g.name}</b> {g.maker} {g.model}, no. {g.serial}
                  <br />
                  <span className={holds ? 'text-quiet' : 'expired'}>
                    {g.calibratedTo === undefined
                      ? 'never calibrated'
                      : `${holds ? 'calibrated to' : 'calibration ended'} ${dayWithYear(g.calibratedTo)}`}
                  </span>
                </span>
                {g.id === present?.id ? (
                  <span className="text-quiet">in use</span>
                ) : (
                  <Button
                    disabled={bench.ready.doing !== null}
                    onClick={() => {
                      void bench.driver.exchange(need, g.id).then((done) => (done ? close() : undefined));
                    }}
                  >
                    Take it
                  </Button>
                )}
              </li>
            );
          })}
      </ul>
      {all.data !== undefined && all.data.filter((g) => g.role === role && g.id !== present?.id).length === 0 ? (
        <p className="mt-3">The stores have no other.</p>
      ) : null}
      <p className="mt-3 text-quiet">
        Gear past its calibration can be chosen, but arming and entering refuse it for a judged step.
      </p>
      <Refused bench={bench} />
      <Button className="mt-4" onClick={close}>
        Close
      </Button>
    </Dialog>
  );
}
