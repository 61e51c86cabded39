// Makes checks of what the server sends from its committed description: the page parses each answer once, at its
// boundary. One module for each module that asks, so that a page fetches the checks of what it asks for.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import Ajv from 'ajv';
import standalone from 'ajv/dist/standalone/index.js';

const ANSWERS = {
  acts: ['ActView'],
  people: ['Account', 'Change', 'OneTimePassword', 'RightView', 'SessionView'],
  calls: ['CurveView', 'Gear', 'Person', 'Status', 'Stored'],
  run: ['Armed', 'Beat', 'Energising', 'HandHeard', 'RunView'],
  variants: ['StepLane', 'VariantSummary'],
  register: [
    'AssetPage', 'Barred', 'ClassChoices', 'FieldUse', 'FoundPlaces', 'FreeCode', 'Hits', 'ImportResult', 'ImportView',
    'MeasuringPage', 'PositionPage', 'RegisterOverview', 'SitePage',
  ],
  standards: ['StandardTableView'],
  curves: ['CurveModelView', 'CurvePreview'],
  series: ['CarriedOffer', 'SeriesStarted', 'TestSeries'],
  testset: ['TestSet', 'TestSetStarted'],
  starting: ['StartingOffer', 'StartingPointView'],
  intake: ['FilePlace', 'IntakeFile', 'IntakeResult', 'IntakeView'],
  round: ['CalendarAddress', 'DayOf', 'FreeJob', 'Job', 'PlanAct', 'PlanChanged', 'Round', 'Undone'],
  plan: [
    'ComplianceJob', 'ComplianceReport', 'CurrentProposal', 'Decision', 'Load', 'Plan', 'PlanChoices',
    'PlanJob', 'PlanJobs', 'PlanLine', 'PlanPreview', 'PlanRevision', 'ProposalView', 'ResourcesView', 'TakenUp',
  ],
  condition: ['AdviceRisk', 'ConditionView', 'FleetList', 'MonthView', 'RaisedJobs', 'SharedView', 'TrendsView'],
  records: [
    'AssetView', 'CaptureNaming', 'ComparisonView', 'FileNaming', 'RecordAnswer', 'RecordChoices', 'RecordPage', 'TracesView',
  ],
};
const INTO = 'src/generated/checks';

const api = JSON.parse(readFileSync('../server/openapi.json', 'utf8'));
const runtime = /const (\w+) = require\("ajv\/dist\/runtime\/(\w+)"\)\.default;/g;
// A page tells where an answer is wrong and what is wrong there; the rest of an error would be a third of what it loads.
const unsaid = /schemaPath:"(?:[^"\\]|\\.)*",keyword:"[\w$]+",params:\{[^{}]*\},/g;

rmSync(INTO, { recursive: true, force: true });
mkdirSync(INTO, { recursive: true });
for (const [group, answers] of Object.entries(ANSWERS)) {
  // allErrors off: the first thing wrong is what one can act on. Unknown fields are allowed: a newer server may say more.
  const ajv = new Ajv({
    strict: false, validateFormats: false, inlineRefs: false, code: { source: true, esm: true, lines: false },
  });
  ajv.addSchema({ $id: 'api', components: api.components });
  const names = {};
  for (const name of answers) {
    if (!api.components.schemas[name]) {
      throw new Error(`the description has no "${name}"`);
    }
    ajv.addSchema({ $id: name, $ref: `api#/components/schemas/${name}` });
    names[`is${name}`] = name;
  }
  const code = standalone(ajv, names)
    .replace(runtime, 'import $1Module from "ajv/dist/runtime/$2.js";const $1 = $1Module.default ?? $1Module;')
    .replace(unsaid, '');
  if (code.includes('require(')) {
    throw new Error('the generated checks need something that a page does not have');
  }
  writeFileSync(`${INTO}/${group}.js`, code);
  const types = [
    'import type { components } from "../api";',
    'import type { ErrorObject } from "ajv";',
    'type Check<T> = { (value: unknown): value is T; errors?: ErrorObject[] | null };',
    ...answers.map((name) => `export const is${name}: Check<components["schemas"]["${name}"]>;`),
  ];
  writeFileSync(`${INTO}/${group}.d.ts`, `${types.join('\n')}\n`);
}
