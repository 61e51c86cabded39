import type { Problem } from '../api/http';
import type { Beat, Quantity, RunView } from '../api/types';

/** What is measured at the moment. */
export interface Progress {
  /** When it was read, ms since 1970 by the server's clock. */
  readonly at: number;
  readonly values: Readonly<Record<string, Quantity>>;
  /** Short traces to be drawn. */
  readonly picture: readonly PictureLine[];
}

/** A short trace of what is measured at the moment. */
export interface PictureLine {
  readonly name: string;
  readonly xUnit: string;
  readonly yUnit: string;
  readonly x: readonly number[];
  readonly y: readonly number[];
}

/**
 * The link to the server: `lost` after 1.5 s without an answer; `back` once it answers again, until the next
 * action.
 */
export type Link =
  | { readonly status: 'up' }
  /** @param heard when the server was last heard, ms of the browser's monotonic clock */
  | { readonly status: 'lost'; readonly whileNotSafe: boolean; readonly heard: number }
  | { readonly status: 'back'; readonly whileNotSafe: boolean };

/** An armed step that this screen may start. */
export interface Arming {
  readonly token: string;
  readonly what: string;
  /** On the wires' clock, ms. */
  readonly until: number;
}

export interface Ready {
  readonly status: 'ready';
  readonly run: string;
  readonly view: RunView;
  /** When the view came, on the wires' clock, ms: what counts down counts from here. */
  readonly since: number;
  readonly progress: Progress | null;
  readonly drives: boolean;
  /** Whether any driving screen is heard. */
  readonly heard: boolean;
  readonly link: Link;
  /** What is being done at the moment. */
  readonly doing: string | null;
  readonly refusal: Problem | null;
  readonly arming: Arming | null;
}

/**
 * Whether an output may come on by itself, or is on: armed, live, or busy in the gap between two measurements of
 * a sequence.
 */
export function mayBeLive(view: RunView): boolean {
  return view.output.mode !== 'safe' || view.busy;
}

/** A run as this page knows it. */
export type RunModel =
  | { readonly status: 'loading'; readonly run: string }
  | { readonly status: 'failed'; readonly run: string; readonly problem: Problem }
  | Ready;

export type Change =
  | { readonly kind: 'seen'; readonly view: RunView; readonly at: number }
  | { readonly kind: 'failed'; readonly problem: Problem }
  | { readonly kind: 'progress'; readonly progress: Progress }
  | { readonly kind: 'beat'; readonly beat: Beat }
  | { readonly kind: 'silence'; readonly heard: number }
  | { readonly kind: 'doing'; readonly what: string | null }
  | { readonly kind: 'refused'; readonly problem: Problem | null }
  | { readonly kind: 'armed'; readonly arming: Arming };

/** The one place where what a page knows of its run changes. */
export function changed(model: RunModel, change: Change): RunModel {
  if (change.kind === 'seen') {
    return seen(model, change.view, change.at);
  }
  if (model.status !== 'ready') {
    return change.kind === 'failed' ? { status: 'failed', run: model.run, problem: change.problem } : model;
  }
  switch (change.kind) {
    case 'failed':
      return { ...model, refusal: change.problem };
    case 'progress':
      return model.view.output.mode === 'live' ? { ...model, progress: shown(model.progress, change.progress) } : model;
    case 'beat':
      return beaten(model, change.beat);
    case 'silence':
      return model.link.status === 'lost'
        ? model
        : { ...model, link: { status: 'lost', whileNotSafe: mayBeLive(model.view), heard: change.heard } };
    case 'doing':
      return {
        ...model,
        doing: change.what,
        ...(change.what === null ? {} : { refusal: null, link: settled(model.link) }),
      };
    case 'refused':
      return { ...model, refusal: change.problem };
    case 'armed':
      return { ...model, arming: change.arming };
  }
}

/** A figure alone leaves the picture that stands: it is of the same attempt. */
function shown(before: Progress | null, now: Progress): Progress {
  return now.picture.length === 0 && before !== null ? { ...now, picture: before.picture } : now;
}

/** A new action takes the news that the link is back off the screen. */
function settled(link: Link): Link {
  return link.status === 'back' ? { status: 'up' } : link;
}

function seen(model: RunModel, view: RunView, at: number): RunModel {
  if (model.status !== 'ready') {
    return {
      status: 'ready',
      run: model.run,
      view,
      since: at,
      progress: null,
      drives: false,
      heard: false,
      link: { status: 'up' },
      doing: null,
      refusal: null,
      arming: null,
    };
  }
  if (view.n < model.view.n) {
    return model;
  }
  const live = view.output.mode === 'live';
  // Switching on anew takes the news of an earlier loss off the screen.
  const link: Link =
    model.link.status === 'back' && live && model.view.output.mode !== 'live' ? { status: 'up' } : model.link;
  return {
    ...model,
    link,
    view,
    since: at,
    progress: live && view.output.attempt === model.view.output.attempt ? model.progress : null,
    arming: view.output.mode === 'armed' ? model.arming : null,
  };
}

function beaten(model: Ready, beat: Beat): RunModel {
  const link: Link =
    model.link.status === 'lost' ? { status: 'back', whileNotSafe: model.link.whileNotSafe } : model.link;
  if (link === model.link && beat.drives === model.drives && beat.heard === model.heard) {
    return model;
  }
  return { ...model, link, drives: beat.drives, heard: beat.heard };
}
