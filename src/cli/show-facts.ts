import { FACTS_WORK, statedFacts, type FactsOfFolder, type ThemeFacts } from '../core/facts/stated-facts.ts';
import { PACKAGE_COSTS } from '../core/parallel/task-pool.ts';
import { count, digits } from '../core/text/sentence.ts';
import { checkTargets } from './check-targets.ts';
import type { Context } from './command.ts';
import { commonToOpen, doEach } from './each-target.ts';
import { ExitStatus } from './exit-status.ts';
import { shownFact } from './fact-changes.ts';
import { oneLine } from './output/visible.ts';
import { noPagesText } from './output/platform-text.ts';
import { placeFrom } from './output/places.ts';
import { openSource } from './theme-argument.ts';

/** Shows the facts of a theme, or of each of several. */
export async function showFacts(
  context: Context,
  words: readonly string[],
  { jobs }: { readonly jobs: number | undefined },
): Promise<ExitStatus> {
  const { targets } = checkTargets(context, words);
  if (targets.length > 1) {
    const how = { work: FACTS_WORK, common: commonToOpen(context), limits: PACKAGE_COSTS, jobs };
    return showMany(context, doEach(context, targets, how));
  }
  const facts = statedFacts((await openSource(words[0], context)).theme);
  context.say(factsText(context, facts));
  warnOfProblems(context, facts);
  const { theme, platform } = facts;
  context.result({ theme, platform: platform.name, facts: facts.facts });
  return ExitStatus.ok;
}

/** Names a theme that cannot be opened, and shows all others. */
async function showMany(context: Context, each: AsyncIterable<FactsOfFolder>): Promise<ExitStatus> {
  const { paint, io } = context;
  const themes: unknown[] = [];
  let failures = 0;
  for await (const { folder, facts, failure } of each) {
    if (facts !== undefined) {
      context.say(`${themes.length > 0 ? '\n' : ''}${factsText(context, facts)}`);
      warnOfProblems(context, facts);
    } else if (failure !== undefined) {
      failures++;
      context.warn([`${paint.bad('✗')} ${failure.what}`, ...failure.details.map((line) => `  ${oneLine(line)}`)].join('\n'));
    }
    const { theme = null, platform, facts: stated = [] } = facts ?? {};
    themes.push({
      folder: placeFrom(io.folder, folder, ''),
      theme,
      platform: platform?.name ?? null,
      facts: stated,
      failure: failure ?? null,
    });
  }
  const failed = failures === 0 ? '' : paint.bad(`; ${digits(failures)} cannot be opened`);
  context.say(`\n${failures === 0 ? paint.faint('·') : paint.bad('✗')} ${count(themes.length, 'theme')}${failed}`);
  context.result({ themes });
  return failures === 0 ? ExitStatus.ok : ExitStatus.usage;
}

function factsText({ paint }: Context, { names: { id, vendor }, platform, isOneFile, facts }: ThemeFacts): string {
  const rows = [
    { name: 'id', value: id, where: isOneFile ? 'the file’s name' : 'the folder’s name' },
    ...(vendor === undefined ? [] : [{ name: 'vendor', value: vendor, where: 'the name of the folder above' }]),
    ...facts.map(({ fact, value, file, line, column }) => ({
      name: fact,
      value: shownFact({ value }),
      where: `${file}:${line}:${column}`,
    })),
  ];
  const width = (key: 'name' | 'value'): number => Math.min(44, Math.max(...rows.map((row) => row[key].length)));
  const none = platform.hasTemplates ? [] : ['', noPagesText(platform.title, paint)];
  return [
    `${paint.strong(id)} ${paint.faint(`(${platform.title}): ${count(rows.length, 'fact')}`)}\n`,
    ...rows.map(
      ({ name, value, where }) => `  ${paint.name(name.padEnd(width('name')))}  ${value.padEnd(width('value'))}  ${paint.faint(where)}`,
    ),
    ...none,
  ].join('\n');
}

function warnOfProblems(context: Context, { problems }: ThemeFacts): void {
  for (const { title, message } of problems) context.warn(`\n${context.paint.warn('▲')} ${title}: ${message}; “pionero check” says more`);
}
