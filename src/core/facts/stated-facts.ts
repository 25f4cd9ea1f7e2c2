import { PioneroError } from '../errors.ts';
import type { FolderWork } from '../parallel/folder-pool.ts';
import { keyPath, type Fact } from '../theme/documents.ts';
import { themesToOpen, type FoldersToOpen } from '../theme/folders-to-open.ts';
import { isOneFile } from '../theme/place.ts';
import type { Theme } from '../theme/theme.ts';
import { plainFacts } from './plain-facts.ts';

/** A fact, and where it stands; line and column from 1. */
export interface StatedFact {
  readonly fact: string;
  /** The keys that lead to it in its document, joined by points. */
  readonly key: string;
  readonly value: NonNullable<Fact['value']> | null;
  readonly file: string;
  readonly line: number;
  readonly column: number;
}

/** The facts of a theme. Plain data: it can be sent to another thread. */
export interface ThemeFacts {
  readonly names: { readonly id: string; readonly vendor?: string | undefined };
  readonly platform: { readonly name: string; readonly title: string; readonly hasTemplates: boolean };
  readonly isOneFile: boolean;
  /** The facts by their names, with the id: see {@link plainFacts}. */
  readonly theme: Readonly<Record<string, unknown>>;
  readonly facts: readonly StatedFact[];
  /** Documents that cannot be read in full, each with its first problem. */
  readonly problems: readonly { readonly title: string; readonly message: string }[];
}

export function statedFacts(theme: Theme): ThemeFacts {
  const { name, title, templates } = theme.platform.contract;
  const { id, vendor } = theme.names;
  return {
    names: { id, vendor },
    platform: { name, title, hasTemplates: templates !== undefined },
    isOneFile: isOneFile(theme.platform),
    theme: plainFacts(theme),
    facts: theme.facts.map(placed),
    problems: theme.documents.flatMap(({ title: document, problems: [first] }) =>
      first === undefined ? [] : [{ title: document, message: first.message }],
    ),
  };
}

function placed(fact: Fact): StatedFact {
  const position = fact.document.source?.positionAt(fact.node.start) ?? { line: 1, column: 1 };
  return { fact: fact.name, key: keyPath(fact.field).join('.'), value: fact.value ?? null, file: fact.document.path, ...position };
}

/** One of many themes, by its folder or archive; absolute. */
export interface FactsOfFolder {
  readonly folder: string;
  readonly facts?: ThemeFacts | undefined;
  /** Why it cannot be opened. */
  readonly failure?: Failure | undefined;
}

interface Failure {
  readonly code: PioneroError['code'];
  readonly what: string;
  readonly details: readonly string[];
}

/** Reads the facts of themes one after another. */
export async function readFacts(input: FoldersToOpen): Promise<FactsOfFolder[]> {
  const read: FactsOfFolder[] = [];
  for (const { path, open } of themesToOpen(input)) {
    try {
      read.push({ folder: path, facts: statedFacts((await open()).theme) });
    } catch (error) {
      if (!(error instanceof PioneroError)) throw error;
      read.push(failedFacts(path, error));
    }
  }
  return read;
}

/** @param folder absolute */
export function failedFacts(folder: string, { code, what, why, details }: PioneroError): FactsOfFolder {
  return { folder, failure: { code, what, details: [...(why === undefined ? [] : [why]), ...details] } };
}

/** The reading of the facts of many themes on several threads. */
export const FACTS_WORK: FolderWork<FoldersToOpen, FactsOfFolder, 'read'> = {
  tasks: { module: 'read-facts.tasks.js' },
  name: 'read',
  here: readFacts,
  called: 'reading',
  doing: 'reading',
  failed: failedFacts,
};
