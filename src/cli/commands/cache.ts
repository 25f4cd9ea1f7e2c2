import { FailedOperationError } from '../../core/errors.ts';
import { DiskCache } from '../../core/files/disk-cache.ts';
import { count } from '../../core/text/sentence.ts';
import { actionArgument, actionOf } from '../actions.ts';
import { defineCommand, type ActionFacts, type Context } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import { bytes } from '../output/paint.ts';
import { checkCacheFolder } from '../own-folders.ts';

type Action = (context: Context) => ExitStatus;

const ACTIONS: Readonly<Record<string, Action>> = { show, clear };

const FACTS: Readonly<Record<string, ActionFacts>> = {
  show: {
    about: 'say where the results of checks are kept, and how many there are',
    arguments: [],
    options: [],
    examples: ['pionero cache show'],
  },
  clear: { about: 'drop them: the next check finds everything again', arguments: [], options: [], examples: ['pionero cache clear'] },
};

export default defineCommand({
  arguments: [actionArgument(FACTS)],
  actions: FACTS,
  options: {},
  examples: ['pionero cache show', 'pionero cache clear'],
  async run(context, [name = '']) {
    return actionOf('cache', ACTIONS, name)(context);
  },
});

function show(context: Context): ExitStatus {
  const folder = checkCacheFolder(context.io.env);
  const size = new DiskCache(folder).size();
  const of = size.entries === 0 ? 'nothing' : `${count(size.entries, 'result')}, ${bytes(size.bytes)}`;
  context.say(`The results of checks are kept in ${context.shown(folder)}: ${of}.`);
  context.result({ folder, ...size });
  return ExitStatus.ok;
}

function clear(context: Context): ExitStatus {
  const folder = checkCacheFolder(context.io.env);
  const { dropped, left } = new DiskCache(folder).clear();
  const shown = context.shown(folder);
  if (left > 0)
    throw new FailedOperationError({
      what: `${count(left, 'result')} in ${shown} cannot be dropped`,
      why: dropped === 0 ? undefined : `${count(dropped, 'other')} are gone`,
      hint: 'give yourself the right to write there',
    });
  context.say(`${context.paint.good('✓')} ${count(dropped, 'result')} dropped from ${shown}.`);
  context.result({ folder, dropped });
  return ExitStatus.ok;
}
