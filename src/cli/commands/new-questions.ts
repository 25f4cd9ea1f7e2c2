import * as z from 'zod';
import { UsageError } from '../../core/errors.ts';
import { judgeName, type Platform } from '../../core/platform/platform.ts';
import { readUserStart } from '../../core/configuration/user-configuration.ts';
import { userConfigurationFile } from '../io.ts';
import { findKit, listKits, type Kit } from '../../core/scaffold/kits.ts';
import { spell, splitWords } from '../../core/names/spelling.ts';
import { type Context, takes, changeOptions } from '../command.ts';
import { promptsFor } from '../prompts.ts';

/** What `new` can be told. */
export const newOptions = {
  kit: takes(z.string().optional().describe('the kit to start from: its name, its folder or its archive'), 'NAME|PATH'),
  parent: takes(z.string().optional().describe('the id of the parent: makes the theme its child'), 'ID'),
  without: takes(z.array(z.string()).default([]).describe('a part of the kit, or files of it, to leave out; repeatable'), 'PART|GLOB'),
  only: takes(z.array(z.string()).default([]).describe('the only files of the kit to take, besides its manifest; repeatable'), 'GLOB'),
  take: takes(z.array(z.string()).default([]).describe('a file or page of the parent to start with a copy of; repeatable'), 'FILE|ROLE'),
  kitName: takes(z.array(z.string()).default([]).describe('what else stands for the new name in the kit; repeatable'), 'WORD'),
  title: takes(z.string().optional().describe('the title, shown to people; default: derived from the id'), 'TEXT'),
  vendor: takes(z.string().optional().describe('who makes it, on platforms that have vendors'), 'NAME'),
  like: takes(z.string().optional().describe('a theme whose author, licence, tags and releases the new one starts with'), 'THEME'),
  set: takes(z.array(z.string()).default([]).describe('a fact of the new theme; repeatable'), 'FACT=VALUE'),
  to: takes(z.string().default('.').describe('the shelf to make it on; the current folder when left out'), 'DIR'),
  here: z.boolean().default(false).describe('add to the current folder what it lacks; nothing is overwritten'),
  keepWord: takes(z.array(z.string()).default([]).describe('what looks like a name of the kit, and is none; repeatable'), 'WORD'),
  ...changeOptions,
};
type NewOptions = z.infer<z.ZodObject<typeof newOptions>>;

export interface NewAnswers {
  readonly platform?: Platform | undefined;
  readonly id?: string | undefined;
  readonly title?: string | undefined;
  readonly vendor?: string | undefined;
  readonly parent?: string | undefined;
  readonly kit?: string | undefined;
  readonly facts: Readonly<Record<string, string>>;
  /** Names of the kit that were agreed to. */
  readonly kitNames?: readonly string[] | undefined;
}

/** Asks on a terminal for what was not given; elsewhere, and with --yes, nothing is asked. */
export async function askForNewTheme(context: Context, given: { id: string | undefined; options: NewOptions }): Promise<NewAnswers> {
  const { options } = given;
  if (!context.io.isInteractive || options.yes || context.isMachine) return { id: given.id, facts: {} };
  const prompts = await promptsFor(context.io);
  const answered = <T>(answer: T | undefined): T => {
    if (answer === undefined) throw new UsageError({ what: 'stopped: nothing was made' });
    return answer;
  };
  context.say(context.paint.strong('A new theme'));
  const platforms = context.platforms();
  const wanted = context.options.platform ?? (platforms.length === 1 ? platforms[0]?.contract.name : undefined);
  const platform =
    wanted !== undefined
      ? context.platformNamed(wanted)
      : context.platformNamed(
          answered(
            await prompts.choose(
              'Which host is it for?',
              platforms.map(({ contract }) => ({ value: contract.name, label: contract.title, hint: contract.summary })),
            ),
          ),
        );
  const { grammar } = platform.contract.id;
  const id =
    given.id ??
    answered(
      await prompts.text({
        message: `Theme id (used in code and as the folder name) (${grammar})`,
        placeholder: 'cierzo',
        validate: (value) => {
          const verdict = judgeName(value, platform.contract.id);
          return verdict === undefined
            ? undefined
            : `${verdict.problem}${verdict.suggestion === undefined ? '' : `; try “${verdict.suggestion}”`}`;
        },
      }),
    );
  const { vendor: vendorGrammar } = platform.contract;
  const vendor =
    vendorGrammar === undefined
      ? undefined
      : (options.vendor ??
        answered(
          await prompts.text({
            message: `Its vendor: who makes it (${vendorGrammar.grammar})`,
            validate: (value) => judgeName(value, vendorGrammar)?.problem,
          }),
        ));
  const suggested = spell(splitWords(id), 'title');
  const title = options.title ?? answered(await prompts.text({ message: 'Title (shown to people)', initial: suggested }));
  const parents = parentChoices(context, platform, options);
  const parent =
    options.parent ??
    (options.kit === undefined && parents.length > 1 ? answered(await prompts.choose('Does it build on another theme?', parents)) : '');
  const shelves = context.shelvesOf(platform, options.to);
  const parentFolder = parent === '' ? undefined : shelves.find(parent)?.folder;
  const places = { platform, parentFolder, shelves };
  const kits = listKits(places).filter((kit) => kit.isChild === (parent !== ''));
  const kit =
    options.kit ??
    (kits.length > 1
      ? answered(
          await prompts.choose(
            'Which kit does it start from?',
            kits.map((each) => ({ value: each.name, label: each.title, hint: each.about })),
          ),
        )
      : undefined);
  const facts: Record<string, string> = {};
  const opened = await findKit(places, kit, parent !== '');
  const kitNames: string[] = [];
  for (const { text, evidence, isSure } of opened.names) {
    const isNew = !isSure && !options.kitName.includes(text);
    if (isNew && answered(await prompts.confirm(`“${text}” stands ${evidence}. Does it stand for the new name?`))) kitNames.push(text);
  }
  const yours = readUserStart(userConfigurationFile(context.io.env), platform.contract.name).facts;
  for (const fact of [...new Set([...opened.asks, ...lackingFacts(opened)])]) {
    if (yours[fact] !== undefined) continue;
    if (options.set.some((pair) => pair.startsWith(`${fact}=`))) continue;
    const field = platform.contract.documents.flatMap((document) => document.fields).find((each) => each.fact === fact);
    const value = answered(
      await prompts.text({ message: `Its ${fact}${field?.about === undefined ? '' : `: ${field.about}`} (may stay empty)` }),
    );
    if (value !== '') facts[fact] = value;
  }
  return { platform, id, title, vendor, parent: parent === '' ? undefined : parent, kit, facts, kitNames };
}

/** What the platform wants of every theme and the kit does not say; its names are asked for before. */
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

function parentChoices(context: Context, platform: Platform, options: NewOptions): { value: string; label: string; hint?: string }[] {
  const none = { value: '', label: 'No, it stands alone' };
  if (platform.contract.inheritance.kind === 'none') return [none];
  const shelves = context.shelvesOf(platform, options.to);
  return [none, ...shelves.list().map((theme) => ({ value: theme.names.id, label: `On ${theme.names.id}`, hint: theme.folder }))];
}
