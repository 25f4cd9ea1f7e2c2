// The rooms of the house, from the ground up: each imports only what stands below it. tests/core/layers.test.ts holds the
// sources against this, and `npm run docs` puts the picture into CONTRIBUTING.md.

/** @type {readonly (readonly [room: string, about: string])[]} */
export const ROOMS = [
  ['core/errors.ts', 'errors that a user can cause and fix'],
  ['core/text', 'texts with positions, edits, near names'],
  ['core/files', 'file trees: on disk, in memory, in an archive'],
  ['core/licenses', 'the texts of licenses, and what a text is'],
  ['core/names', 'full names, spellings, weights, the finder'],
  ['core/parallel', 'workers: threads that take over a part of a room’s work, without knowing it'],
  ['core/changes', 'change plan, apply, journal, lock, recovery, undo; the one disk writer'],
  ['core/archives', 'zip and tar, written and read; what an archive may hold'],
  ['core/documents', 'one file a syntax: read fields with positions, edit in place'],
  ['core/configuration', 'pionero.yaml, and how our files are read'],
  ['core/platform', 'platform files: schema, loading, shapes'],
  ['core/templates', 'one file a template language: the template index'],
  ['core/theme', 'a theme, opened: its documents, its shelf, its chain'],
  ['core/contents', 'what its files hold: references, templates, regions, identifiers, what others own'],
  ['core/facts', 'facts, set and kept alike; the one writer of fields'],
  ['core/rules', 'one file a rule, in folders by family; the engine that asks them'],
  ['core/placing', 'which place and name is free and allowed'],
  ['core/upgrade', 'what a theme must change for another release of its host'],
  ['core/rename', 'mentions, the list of judges, spelling, plan, proof'],
  ['core/scaffold', 'new from a kit; kits'],
  ['core/learning', 'a platform file learned from themes, and tried on them'],
  ['core/lineage', 'trace, override, drift, harvest'],
  ['core/package', 'what goes in, verified'],
  ['core/rehearsal', 'the stand-in host'],
  ['core/sites', 'real sites: what is put into one'],
  ['core/shots', 'pages in a browser: pictures, and what readers stumble over'],
  ['core/editor', 'what an editor shows of a theme while you type'],
  ['core/covers', 'the pictures that a platform asks for'],
  ['core/web', 'servers on this machine: pages to look at, a catalogue'],
  ['core/index.ts', 'the public library'],
  ['cli/exit-status.ts', 'what the program ends with'],
  ['cli/standard-output.ts', 'what is printed, as fast as it can be'],
  ['cli/io.ts', 'what the program has around it'],
  ['cli/own-folders.ts', 'where it keeps what it writes for a person'],
  ['cli/output', 'text, json, sarif, junit'],
  ['cli', 'arguments, questions, what commands share'],
  ['cli/language-server', 'the Language Server Protocol'],
  ['cli/commands', 'one file a command'],
  ['cli/command-table.ts', 'every command, loaded when it is asked for'],
  ['cli/completion.ts', 'what a shell proposes'],
  ['cli/man-page.ts', 'the manual page'],
  ['cli/commands-page.ts', 'the page of all commands'],
  ['cli/slips.ts', 'what people try first'],
  ['cli/run.ts', 'one command line'],
  ['cli/main.ts', 'the program'],
  ['cli/pionero.ts', 'the file that is started'],
];

/** The longest room that a path below src/ lies in; -1 for none. */
export function roomOf(path) {
  const fits = ROOMS.flatMap(([room], i) => (path === room || path.startsWith(`${room}/`) ? [[room.length, i]] : []));
  return fits.sort(([a], [b]) => b - a)[0]?.[1] ?? -1;
}

export function picture() {
  const width = Math.max(...ROOMS.map(([room]) => room.length));
  return ROOMS.toReversed()
    .map(([room, about]) => `src/${room.padEnd(width)}  ${about}`)
    .join('\n');
}
