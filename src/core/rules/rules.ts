import * as acceptances from './acceptances/index.ts';
import * as assets from './assets/index.ts';
import * as bundles from './bundles/index.ts';
import * as code from './code/index.ts';
import * as documents from './documents/index.ts';
import * as facts from './facts/index.ts';
import * as files from './files/index.ts';
import * as identifiers from './identifiers/index.ts';
import * as images from './images/index.ts';
import * as licenses from './licenses/index.ts';
import * as parents from './parents/index.ts';
import * as regions from './regions/index.ts';
import * as releases from './releases/index.ts';
import * as sites from './sites/index.ts';
import * as strings from './strings/index.ts';
import * as submission from './submission/index.ts';
import * as templates from './templates/index.ts';
import * as text from './text/index.ts';
import type { Rule } from './rule.ts';

const FAMILIES: readonly Readonly<Record<string, Rule>>[] = [
  acceptances,
  assets,
  bundles,
  code,
  documents,
  facts,
  files,
  identifiers,
  images,
  licenses,
  parents,
  regions,
  releases,
  sites,
  strings,
  submission,
  templates,
  text,
];

/** Every rule, by its id. A new one is entered in the list of its family, `index.ts` beside it, and nowhere else. */
export const RULES: readonly Rule[] = FAMILIES.flatMap((family) => Object.values(family)).sort((a, b) => (a.meta.id < b.meta.id ? -1 : 1));
