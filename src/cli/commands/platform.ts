import { text, type Values } from '../option.ts';
import { isAbsolute } from 'node:path';
import { kindOnDisk } from '../../core/files/disk.ts';
import { ConfigurationError, UsageError } from '../../core/errors.ts';
import { checkPlatform } from '../../core/scaffold/check-platform.ts';
import type { Platform } from '../../core/platform/platform.ts';
import { listKits } from '../../core/scaffold/kits.ts';
import { findConfiguration } from '../../core/configuration/configuration.ts';
import { actionArgument, actionOf } from '../actions.ts';
import { changeOptions, defineCommand, type ActionFacts, type Context } from '../command.ts';
import { extendPlatformFile } from './platform-extend.ts';
import { newPlatform, placeOf } from './platform-new.ts';
import { refusedText, supportText } from '../output/support-text.ts';
import { measurePlatform } from '../../core/learning/support.ts';
import { ExitStatus } from '../exit-status.ts';
import { platformText } from '../output/platform-text.ts';
import { checkedShelves } from '../../core/theme/open.ts';
import { count, plural } from '../../core/text/sentence.ts';

const OPTIONS = {
  name: text('NAME', 'new: what --platform calls it'),
  title: text('TEXT', 'new: the title, shown to people'),
  kit: text('THEME', 'new: the theme that becomes the first kit, a copy of it beside the file'),
  out: text('FILE', 'new: the file to write; default: NAME.platform.yaml'),
  ...changeOptions,
};
type Options = Values<typeof OPTIONS>;
type Action = (context: Context, words: readonly string[], options: Options) => ExitStatus | Promise<ExitStatus>;

const ACTIONS: Readonly<Record<string, Action>> = {
  list,
  show: (context, [argument]) => show(context, argument ?? context.options.platform),
  check: (context, [argument, ...themes]) => check(context, argument ?? context.options.platform, themes),
  new: (context, words, options) => {
    const [first = '', ...themes] = words;
    return isPlatformFile(context, first) ? extendPlatformFile(context, first, themes, options) : newPlatform(context, words, options);
  },
};

/** The arguments and options of each. */
const FACTS: Readonly<Record<string, ActionFacts>> = {
  list: { about: 'list the platforms that can be named', arguments: [], options: [], examples: ['pionero platform list'] },
  show: {
    about: 'show what a platform expects of its themes',
    arguments: [{ form: '<platform>', about: 'a platform’s name, or the path of a platform file' }],
    options: [],
    examples: ['pionero platform show cordada', 'pionero platform show my.platform.yaml'],
  },
  check: {
    about: 'check a platform file and its kits, and try it on themes',
    arguments: [
      { form: '<platform>', about: 'a platform’s name, or the path of a platform file' },
      { form: '[themes...]', about: 'folders of themes to try it on' },
    ],
    options: [],
    examples: ['pionero platform check my.platform.yaml', 'pionero platform check my.platform.yaml boards'],
  },
  new: {
    about: 'learn a platform file from themes, or add to one what further themes teach',
    arguments: [
      { form: '[file]', about: 'a platform file to add to; a new one is made when it is left out' },
      { form: '[themes...]', about: 'themes, or folders of themes, to learn from' },
    ],
    options: ['name', 'title', 'kit', 'out', 'dryRun', 'yes'],
    examples: ['pionero platform new boards --name sendero --kit boards/cierzo', 'pionero platform new sendero.platform.yaml more-boards'],
  },
};

export default defineCommand({
  arguments: [
    actionArgument(FACTS),
    {
      form: '[platform...]',
      about:
        'a platform’s name, or the path of a platform file; check: then folders of themes to try it on; new: folders of themes to learn it from, behind a file to add to it',
    },
  ],
  actions: FACTS,
  options: OPTIONS,
  examples: [
    'pionero platform list',
    'pionero platform show cordada',
    'pionero platform check my.platform.yaml',
    'pionero platform check my.platform.yaml boards',
    'pionero platform new boards --name sendero --kit boards/cierzo',
    'pionero platform new sendero.platform.yaml more-boards',
  ],
  async run(context, [name = '', ...words], options) {
    return actionOf('platform', ACTIONS, name)(context, words, options);
  },
});

/** Whether a word names a platform file that is there: themes are folders. */
function isPlatformFile(context: Context, word: string): boolean {
  return /\.ya?ml$/.test(word) && kindOnDisk(context.path(word)) === 'file';
}

function chosen(context: Context, argument: string | undefined): Platform {
  const wanted = argument ?? findConfiguration(context.io.folder).platform;
  if (wanted === undefined)
    throw new UsageError({
      what: 'which platform?',
      hint: `known: ${context
        .platforms()
        .map((each) => each.contract.name)
        .join(', ')}; or the path of a file`,
    });
  return context.platformNamed(wanted);
}

function list(context: Context): ExitStatus {
  const { paint } = context;
  const configured = context.options.platform ?? findConfiguration(context.io.folder).platform;
  const named = configured === undefined ? undefined : context.platformNamed(configured);
  const platforms =
    named === undefined || context.platforms().some((each) => each.file === named.file)
      ? context.platforms()
      : [...context.platforms(), named];
  context.say(`${count(platforms.length, 'platform')}\n`);
  for (const { contract, file } of platforms) {
    context.say(`  ${paint.name(contract.name.padEnd(12))} ${contract.summary}`);
    context.say(`  ${''.padEnd(12)} ${paint.faint(`${contract.home}  ·  ${file}`)}`);
  }
  context.say(`\n${paint.name('→')} “pionero platform show NAME” says what one expects.`);
  context.result(
    platforms.map(({ contract, file }) => ({
      name: contract.name,
      title: contract.title,
      summary: contract.summary,
      home: contract.home,
      file,
    })),
  );
  return ExitStatus.ok;
}

function show(context: Context, argument: string | undefined): ExitStatus {
  const platform = chosen(context, argument);
  context.say(platformText(platform, listKits({ platform }), context.paint));
  context.result(platform.contract);
  return ExitStatus.ok;
}

/** The platform whose file is to be checked; what cannot be read of it is a result, too. @throws ConfigurationError */
function judged(context: Context, argument: string | undefined): Platform {
  try {
    return chosen(context, argument);
  } catch (error) {
    if (error instanceof ConfigurationError)
      context.result({
        platform: null,
        problems: error.problems.map(({ file, line, column, message }) => ({ file, line, column, message })),
      });
    throw error;
  }
}

function check(context: Context, argument: string | undefined, themes: readonly string[]): ExitStatus {
  const platform = judged(context, argument);
  if (themes.length > 0) return measure(context, platform, themes);
  // Those of a kit are in files of its own.
  const problems = checkPlatform(platform, checkedShelves(context.opening)).map((problem) => ({
    ...problem,
    file: isAbsolute(problem.file) ? context.shown(problem.file) : problem.file,
  }));
  context.result({
    platform: platform.contract.name,
    problems: problems.map(({ file, line, column, message }) => ({ file, line, column, message })),
  });
  if (problems.length > 0) throw new ConfigurationError({ what: `${platform.file}: ${count(problems.length, 'problem')}`, problems });
  const kits = listKits({ platform });
  context.say(
    `${context.paint.good('✓')} ${platform.file} is valid; ${kits.length === 0 ? 'it has no kits' : `${count(kits.length, 'kit')} ${plural(kits.length, 'passes its', 'pass their')} own check (${kits.map((kit) => kit.name).join(', ')})`}`,
  );
  return ExitStatus.ok;
}

/** How well a platform file fits themes: which of its lines how many of them have, and which it refuses. */
function measure(context: Context, platform: Platform, folders: readonly string[]): ExitStatus {
  const { themes, shelves } = placeOf(context, folders);
  const { lines, refused } = measurePlatform(platform, themes, [...shelves, ...checkedShelves(context.opening)]);
  const taken = themes.length - refused.length;
  const mark = refused.length === 0 ? context.paint.good('✓') : context.paint.bad('✗');
  context.say(`${mark} ${platform.file} takes ${taken} of ${count(themes.length, 'theme')}.\n`);
  for (const line of supportText(lines, context.paint)) context.say(line);
  if (refused.length > 0) context.say('');
  for (const line of refusedText(refused, context.paint)) context.say(line);
  context.result({
    platform: platform.contract.name,
    themes: themes.length,
    lines,
    refused: refused.map(({ id, missing, findings }) => ({
      id,
      missing: missing ?? null,
      findings: findings.map(({ message }) => message),
    })),
  });
  return refused.length === 0 ? ExitStatus.ok : ExitStatus.findings;
}
