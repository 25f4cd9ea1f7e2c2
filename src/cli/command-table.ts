import type { Command } from './command.ts';

/** A command before it is loaded. Nothing of it is read until it runs. */
export interface CommandEntry {
  readonly name: string;
  readonly summary: string;
  readonly load: () => Promise<{ readonly default: Command }>;
}

/** Every command, in the order of the work. A new one is entered here and nowhere else. */
export const COMMANDS: readonly CommandEntry[] = [
  { name: 'name', summary: 'say whether an id can be used, and how well', load: () => import('./commands/name.ts') },
  { name: 'new', summary: 'make a new theme from a kit', load: () => import('./commands/new.ts') },
  {
    name: 'check',
    summary: 'find problems in themes, and fix them',
    load: () => import('./commands/check.ts'),
  },
  {
    name: 'meta',
    summary: 'show and change the facts of a theme',
    load: () => import('./commands/meta.ts'),
  },
  { name: 'clone', summary: 'copy a theme under another name', load: () => import('./commands/clone.ts') },
  { name: 'rename', summary: 'rename a theme in place', load: () => import('./commands/rename.ts') },
  { name: 'upgrade', summary: 'make themes ready for another release of their host', load: () => import('./commands/upgrade.ts') },
  { name: 'cover', summary: 'make the pictures that the platform asks for', load: () => import('./commands/cover.ts') },
  { name: 'pack', summary: 'make the archive for install', load: () => import('./commands/pack.ts') },
  {
    name: 'rehearse',
    summary: 'install into a stand-in host and report',
    load: () => import('./commands/rehearse.ts'),
  },
  { name: 'submit', summary: 'hand a theme in to a catalogue', load: () => import('./commands/submit.ts') },
  { name: 'catalogue', summary: 'serve a stand-in catalogue on this machine', load: () => import('./commands/catalogue.ts') },
  { name: 'install', summary: 'put a theme into a site’s folder', load: () => import('./commands/install.ts') },
  { name: 'trace', summary: 'tell what comes from which theme of the chain', load: () => import('./commands/trace.ts') },
  { name: 'override', summary: 'take a copy of a parent’s file, on record', load: () => import('./commands/override.ts') },
  { name: 'drift', summary: 'tell what changed under a child, and merge it', load: () => import('./commands/drift.ts') },
  { name: 'harvest', summary: 'take back what was changed on a site', load: () => import('./commands/harvest.ts') },
  { name: 'platform', summary: 'list, show, check and draft platform files', load: () => import('./commands/platform.ts') },
  { name: 'kit', summary: 'list, make and check starter kits', load: () => import('./commands/kit.ts') },
  { name: 'report', summary: 'merge the reports of a check, or compare two', load: () => import('./commands/report.ts') },
  { name: 'cache', summary: 'show or drop the results of checks that are kept', load: () => import('./commands/cache.ts') },
  { name: 'explain', summary: 'list the rules, or say why one exists, with an example', load: () => import('./commands/explain.ts') },
  {
    name: 'language-server',
    summary: 'serve your editor with findings and fixes',
    load: () => import('./commands/language-server.ts'),
  },
  { name: 'undo', summary: 'undo the last change', load: () => import('./commands/undo.ts') },
  { name: 'completion', summary: 'print what a shell needs to complete command lines', load: () => import('./commands/completion.ts') },
  {
    name: 'demo',
    summary: 'the whole way on sample data, in a temporary folder',
    load: () => import('./commands/demo.ts'),
  },
];
