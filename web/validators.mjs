// Makes checks of what the server sends from its committed description: the page parses each answer once, at its boundary.
import { readFileSync, writeFileSync } from 'node:fs';
import Ajv from 'ajv/dist/2020.js';
import standalone from 'ajv/dist/standalone/index.js';

const ANSWERS = [
  'Account', 'ActView', 'Armed', 'AssetPage', 'AssetView', 'CurveView', 'Barred', 'Beat', 'CalendarAddress', 'Change', 'ClassChoices', 'ComparisonView', 'ComplianceJob', 'ComplianceReport', 'CurrentProposal', 'DayOf', 'Decision', 'Energising',
  'FieldUse', 'FileNaming', 'FoundPlaces', 'FreeCode', 'FreeJob', 'Gear', 'Hits', 'ImportResult', 'ImportView', 'Job', 'Load', 'MeasuringPage', 'OneTimePassword', 'Person', 'Plan', 'PlanAct', 'PlanChanged', 'PlanChoices', 'PlanJob',
  'PlanJobs', 'PlanLine', 'PlanPreview', 'PlanRevision', 'PositionPage', 'ProposalView', 'RecordAnswer', 'RecordChoices', 'RecordPage', 'RegisterOverview', 'ResourcesView', 'RightView', 'Round', 'RunView', 'SessionView', 'SitePage', 'Status', 'StepLane', 'Stored', 'TakenUp', 'TracesView', 'Undone', 'VariantSummary',
];

const api = JSON.parse(readFileSync('../server/openapi.json', 'utf8'));
// allErrors off: the first thing wrong is what one can act on. Unknown fields are allowed: a newer server may say more.
const ajv = new Ajv({ strict: false, validateFormats: false, inlineRefs: false, code: { source: true, esm: true, lines: false } });
ajv.addSchema({ $id: 'api', components: api.components });
const names = {};
for (const name of ANSWERS) {
  if (!api.components.schemas[name]) {
    throw new Error(`the description has no "${name}"`);
  }
  ajv.addSchema({ $id: name, $ref: `api#/components/schemas/${name}` });
  names[`is${name}`] = name;
}
const equal = /const (\w+) = require\("ajv\/dist\/runtime\/(\w+)"\)\.default;/g;
const code = standalone(ajv, names).replace(equal, 'import $1Module from "ajv/dist/runtime/$2.js";const $1 = $1Module.default ?? $1Module;');
if (code.includes('require(')) {
  throw new Error('the generated checks need something that a page does not have');
}
writeFileSync('src/generated/checks.js', code);
const types = ['import type { components } from "./api";', 'import type { ErrorObject } from "ajv";',
  'type Check<T> = { (value: unknown): value is T; errors?: ErrorObject[] | null };',
  ...ANSWERS.map((name) => `export const is${name}: Check<components["schemas"]["${name}"]>;`)];
writeFileSync('src/generated/checks.d.ts', types.join('\n') + '\n');
