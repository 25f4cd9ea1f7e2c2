import { flag, text, texts, type Values } from '../option.ts';
import { basename } from 'node:path';
import { judgeName, type Platform } from '../../core/platform/platform.ts';
import { readUserStart } from '../../core/configuration/user-configuration.ts';
import { userConfigurationFile } from '../own-folders.ts';
import { findKit, listKits } from '../../core/scaffold/kits.ts';
import type { Kit } from '../../core/scaffold/kit.ts';
import { spell, splitWords } from '../../core/names/spelling.ts';
import type { Shelves } from '../../core/theme/shelf.ts';
import { type Context, changeOptions } from '../command.ts';
import { needsOption } from '../needs.ts';
import { forceOption } from '../proof-gate.ts';
import { BACK, chooseOrBack, promptsFor, textOrBack, type Prompts } from '../prompts.ts';
import { askAll, type Question } from '../question-list.ts';
import type { Workspace } from '../workspace.ts';
import { plural } from '../../core/text/sentence.ts';

/** The arguments and options of `new`. */
export const newOptions = {
  kit: text('NAME|PATH', 'the kit to start from: its name, its folder or its archive'),
  parent: text('THEME', 'the parent, by its id or its folder: makes the theme its child'),
  without: texts('PART|GLOB', 'a part of the kit, or files of it, to leave out; repeatable'),
  only: texts('GLOB', 'the only files of the kit to take, besides its manifest; repeatable'),
  take: texts('FILE|ROLE', 'a file or page of the parent to start with a copy of; repeatable'),
  kitName: texts('WORD', 'what else stands for the new name in the kit; repeatable'),
  title: text('TEXT', 'the title, shown to people; default: derived from the id'),
  vendor: text('NAME', 'who makes it, on platforms that have vendors'),
  like: text('THEME', 'a theme whose author, license, tags and releases the new one starts with'),
  set: texts('FACT=VALUE', 'a fact of the new theme; repeatable'),
  to: text('DIR', 'the folder of themes to make it in; default: the parent’s, or the current one'),
  here: flag('complete the current folder: add what is missing, overwrite nothing'),
  keepWord: texts('WORD', 'a word that looks like a placeholder and is not; repeatable'),
  ...needsOption,
  ...forceOption,
  ...changeOptions,
};
export type NewOptions = Values<typeof newOptions>;

/** Everything known of a new theme before it is planned. */
export interface NewAnswers {
  /** Undefined when the host is not one of the platforms here. */
  readonly platform?: Platform | undefined;
  readonly isForOther?: boolean | undefined;
  readonly id?: string | undefined;
  readonly title?: string | undefined;
  readonly vendor?: string | undefined;
  /** '' for a theme that stands alone; undefined while nobody said. */
  readonly parent?: string | undefined;
  readonly kit?: string | undefined;
  readonly facts: Readonly<Record<string, string>>;
  /** Names of the kit that were agreed to, and words that were not. */
  readonly kitNames?: readonly string[] | undefined;
  readonly asked?: readonly string[] | undefined;
}

/** The tools that the questions need. */
interface Asking {
  readonly context: Context;
  readonly prompts: Prompts;
  readonly options: NewOptions;
  readonly around: Workspace;
  /** The shelves on which a parent is looked for, and a name must be free. */
  readonly shelvesOf: (platform: Platform) => Shelves;
}

/** Asks on a terminal for what was not given; elsewhere, and with --yes, nothing is asked. */
export async function askForNewTheme(
  context: Context,
  known: NewAnswers,
  more: Pick<Asking, 'options' | 'around' | 'shelvesOf'>,
): Promise<NewAnswers> {
  if (!context.io.isInteractive || more.options.yes || context.isMachine) return known;
  const asking: Asking = { context, prompts: await promptsFor(context.io), ...more };
  context.say(context.paint.strong('A new theme'));
  const [platform] = more.around.platforms;
  if (known.platform === undefined && more.around.platforms.length === 1 && platform !== undefined)
    context.say(context.paint.faint(`For ${platform.contract.title}, like ${namesNear(more.around)}`));
  const questions = [platformQuestion, parentQuestion, idQuestion, vendorQuestion, titleQuestion, kitQuestion].map((make) => make(asking));
  const first = await askAll(questions, {
    ...known,
    platform: known.platform ?? (more.around.platforms.length === 1 ? platform : undefined),
  });
  return first.isForOther === true ? first : askKitsFacts(asking, first);
}

function namesNear({ near }: Workspace): string {
  const ids = near.slice(0, 3).map(({ id }) => id);
  return `${ids.join(', ')}${near.length > 3 ? ' and others' : ''} ${plural(near.length, 'here', 'around here')}`;
}

/** A question that gives one text. */
function textQuestion(
  { prompts }: Asking,
  isOpen: (answers: NewAnswers) => boolean,
  wording: (answers: NewAnswers) => { message: string; fallback?: string | undefined; validate?: (value: string) => string | undefined },
  keep: (answers: NewAnswers, value: string) => NewAnswers,
): Question<NewAnswers> {
  return {
    isOpen,
    async ask(answers, hasBack) {
      const answer = await textOrBack(prompts, { ...wording(answers), hasBack });
      return answer === undefined || answer === BACK ? answer : keep(answers, answer);
    },
  };
}

/** A question for one of several. */
function choiceQuestion(
  { prompts }: Asking,
  isOpen: (answers: NewAnswers) => boolean,
  message: string,
  choices: (answers: NewAnswers) => { value: string; label: string; hint?: string }[],
  keep: (answers: NewAnswers, value: string) => NewAnswers,
): Question<NewAnswers> {
  return {
    isOpen,
    async ask(answers, hasBack) {
      const answer = await chooseOrBack(prompts, message, choices(answers), hasBack);
      return answer === undefined || answer === BACK ? answer : keep(answers, answer);
    },
  };
}

/** No platform is called so: its name could not be one. */
const OTHER = '-';

function platformQuestion(asking: Asking): Question<NewAnswers> {
  const { context, around } = asking;
  return choiceQuestion(
    asking,
    ({ platform }) => platform === undefined,
    'Which platform is it for?',
    () => {
      const all = [...new Map([...around.platforms, ...context.platforms()].map((each) => [each.contract.name, each])).values()];
      const named = all.map(({ contract }) => ({ value: contract.name, label: contract.title, hint: contract.summary }));
      return [...named, { value: OTHER, label: 'Mine is not here', hint: 'describe it from a theme that you have' }];
    },
    (answers, value) =>
      value === OTHER
        ? { ...answers, isForOther: true }
        : {
            ...answers,
            platform: around.platforms.find(({ contract }) => contract.name === value) ?? context.platformNamed(value),
          },
  );
}

/** Whether a later question makes sense: the platform is known. */
const isKnown = ({ platform }: NewAnswers): boolean => platform !== undefined;

function parentQuestion(asking: Asking): Question<NewAnswers> {
  const choices = (platform: Platform | undefined): { value: string; label: string; hint?: string }[] => {
    if (platform === undefined || platform.contract.inheritance.kind === 'none') return [];
    const near = asking.around.near.filter((each) => each.platform.contract.name === platform.contract.name);
    const listed = asking.shelvesOf(platform).list();
    const all = new Map([
      ...near.map(({ id, folder }) => [id, folder] as const),
      ...listed.map(({ names, folder }) => [names.id, folder] as const),
    ]);
    const brought = platform.contract.inheritance['built-in'].filter((id) => !all.has(id));
    return [
      ...[...all].map(([id, folder]) => ({ value: id, label: `A child of ${id}`, hint: asking.context.shown(folder) })),
      ...brought.map((id) => ({ value: id, label: `A child of ${id}`, hint: 'the host brings it' })),
    ];
  };
  return choiceQuestion(
    asking,
    ({ platform, parent, kit }) => parent === undefined && kit === undefined && choices(platform).length > 0,
    'Does it build on another theme?',
    ({ platform }) => [...choices(platform), { value: '', label: 'No, it stands alone' }],
    (answers, value) => ({ ...answers, parent: value }),
  );
}

function idQuestion(asking: Asking): Question<NewAnswers> {
  return textQuestion(
    asking,
    (answers) => isKnown(answers) && answers.id === undefined,
    ({ platform, parent }) => ({
      message: `Theme id, used in code and as the folder name: ${platform?.contract.id.grammar}`,
      fallback: platform === undefined ? undefined : freeId(asking, platform, parent),
      validate: (value) => (platform === undefined ? undefined : problemOfId(asking.shelvesOf(platform), platform, value, asking.context)),
    }),
    (answers, value) => ({ ...answers, id: value }),
  );
}

/** A sample id that could be taken as it is. */
function freeId(asking: Asking, platform: Platform, parent: string | undefined): string | undefined {
  const { context, around } = asking;
  const words = parent === undefined || parent === '' ? ['my', 'theme'] : [...splitWords(parent), 'child'];
  const spelling = platform.contract.id.spelling === 'free' ? 'kebab' : platform.contract.id.spelling;
  const wanted = around.isPlace ? [basename(context.io.folder)] : [spell(words, spelling), spell([...words, 'two'], spelling)];
  const shelves = asking.shelvesOf(platform);
  return wanted.find((id) => problemOfId(shelves, platform, id, context) === undefined);
}

/** Why a name cannot be the id of a new theme; undefined when it can. */
function problemOfId(shelves: Shelves, platform: Platform, id: string, context: Context): string | undefined {
  const verdict = judgeName(id, platform.contract.id);
  if (verdict !== undefined) return `${verdict.problem}${verdict.suggestion === undefined ? '' : `; try “${verdict.suggestion}”`}`;
  const taken =
    platform.contract.vendor === undefined ? shelves.list().find(({ names }) => names.id.toLowerCase() === id.toLowerCase()) : undefined;
  return taken === undefined ? undefined : `${context.shown(taken.folder)} has that id already; try another one`;
}

function vendorQuestion(asking: Asking): Question<NewAnswers> {
  return textQuestion(
    asking,
    ({ platform, vendor }) => platform?.contract.vendor !== undefined && vendor === undefined,
    ({ platform }) => ({
      message: `Vendor, who makes it: ${platform?.contract.vendor?.grammar}`,
      fallback: platform === undefined ? undefined : yours(asking.context, platform).vendor,
      validate: (value) => (platform?.contract.vendor === undefined ? undefined : judgeName(value, platform.contract.vendor)?.problem),
    }),
    (answers, value) => ({ ...answers, vendor: value }),
  );
}

function titleQuestion(asking: Asking): Question<NewAnswers> {
  return textQuestion(
    asking,
    (answers) => isKnown(answers) && answers.title === undefined,
    ({ id = '' }) => ({ message: 'Title, shown to people', fallback: spell(splitWords(id), 'title') }),
    (answers, value) => ({ ...answers, title: value }),
  );
}

function kitQuestion(asking: Asking): Question<NewAnswers> {
  const kits = ({ platform, parent }: NewAnswers): Kit[] =>
    platform === undefined ? [] : listKits(placesOf(asking, platform, parent)).filter((kit) => kit.isChild === isChildOf(parent));
  return choiceQuestion(
    asking,
    (answers) => answers.kit === undefined && kits(answers).length > 1,
    'Which kit does it start from?',
    (answers) => kits(answers).map((each) => ({ value: each.name, label: each.title, hint: each.about })),
    (answers, value) => ({ ...answers, kit: value }),
  );
}

const isChildOf = (parent: string | undefined): boolean => parent !== undefined && parent !== '';

function placesOf({ shelvesOf }: Asking, platform: Platform, parent: string | undefined) {
  const shelves = shelvesOf(platform);
  return { platform, parentFolder: isChildOf(parent) ? shelves.find(parent ?? '')?.folder : undefined, shelves };
}

/** The questions of the chosen kit: names of its own that may mean the theme, and facts. */
async function askKitsFacts(asking: Asking, answers: NewAnswers): Promise<NewAnswers> {
  const { platform, parent, kit } = answers;
  if (platform === undefined) return answers;
  const opened = await findKit(placesOf(asking, platform, parent), kit, isChildOf(parent));
  const doubtful = opened.names.filter(({ text, isSure }) => !isSure && !asking.options.keepWord.includes(text));
  const names = doubtful.map(({ text, evidence }) =>
    choiceQuestion(
      asking,
      ({ kitNames = [] }) => !kitNames.includes(text),
      `“${text}” stands ${evidence}. Does it stand for the new name?`,
      () => [
        { value: 'yes', label: 'Yes, replace it' },
        { value: 'no', label: 'No, keep it' },
      ],
      (before, value) => (value === 'yes' ? { ...before, kitNames: [...(before.kitNames ?? []), text] } : before),
    ),
  );
  const known = yours(asking.context, platform).facts;
  const wanted = [...new Set([...opened.asks, ...lackingFacts(opened)])].filter(
    (fact) => known[fact] === undefined && !asking.options.set.some((pair) => pair.startsWith(`${fact}=`)),
  );
  const facts = wanted.map((fact) => {
    const field = platform.contract.documents.flatMap((document) => document.fields).find((each) => each.fact === fact);
    const about = field?.about === undefined ? '' : `: ${field.about}`;
    return textQuestion(
      asking,
      ({ asked = [] }) => !asked.includes(fact),
      () => ({ message: `${fact.charAt(0).toUpperCase()}${fact.slice(1)}${about} (may stay empty)` }),
      (before, value) => ({
        ...before,
        asked: [...(before.asked ?? []), fact],
        facts: value === '' ? before.facts : { ...before.facts, [fact]: value },
      }),
    );
  });
  return askAll([...names, ...facts], answers);
}

function yours(context: Context, platform: Platform) {
  return readUserStart(userConfigurationFile(context.io.env), platform.contract.name);
}

/** The facts that the platform requires of every theme and the kit does not state; its names are asked for before. */
function lackingFacts({ theme }: Kit): string[] {
  const named = new Set(['id', 'title', 'vendor', theme.platform.contract.inheritance.fact]);
  return theme.documents.flatMap(({ contract, state }) =>
    state !== 'read'
      ? []
      : contract.fields
          .filter(({ fact, required }) => required === 'always' && !named.has(fact) && theme.fact(fact) === undefined)
          .map(({ fact }) => fact),
  );
}
