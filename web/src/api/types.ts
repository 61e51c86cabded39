import type { components } from '../generated/api';

type Schemas = components['schemas'];

export type RunView = Schemas['RunView'];
export type StepView = Schemas['StepView'];
export type PointView = Schemas['PointView'];
export type ReadingView = Schemas['ReadingView'];
export type ConfirmationView = Schemas['ConfirmationView'];
export type GearFacts = Schemas['GearFacts'];
export type Gear = Schemas['Gear'];
export type Attempt = Schemas['Attempt'];
export type EventView = Schemas['EventView'];
export type Strip = Schemas['Strip'];
export type Figured = Schemas['Figured'];
export type Verdict = PointView['verdict'];
export type Beat = Schemas['Beat'];
export type Round = Schemas['Round'];
export type StopJob = Schemas['StopJob'];
export type Person = Schemas['Person'];
export type Status = Schemas['Status'];
export type BandView = Schemas['BandView'];
export type Quantity = Schemas['Quantity'];
