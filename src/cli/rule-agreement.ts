import { dirname } from 'node:path';
import type { Configuration } from '../core/configuration/configuration.ts';
import { UsageError } from '../core/errors.ts';
import { isBelowOnDisk, kindOnDisk } from '../core/files/disk.ts';
import { ruleModules, type RuleModule } from '../core/rules/engine/own-rules.ts';
import { readAgreements, rememberAgreement } from './agreement.ts';
import type { Context } from './command.ts';
import { promptsFor } from './prompts.ts';

/**
 * The modules of rules that may be run: a module is a program, so the user agrees to it once, as it is now. Says which ones a
 * configuration names and are not run from here.
 * @returns the digests of all that was ever agreed to
 * @throws UsageError when nobody can be asked and --yes is missing
 */
export async function agreedRules(context: Context, configuration: Configuration, themeFolder: string): Promise<ReadonlySet<string>> {
  if (configuration['rule-files'].length === 0) return new Set();
  const modules = ruleModules(configuration, themeFolder, context.io.folder, context.copy);
  sayUnrun(context, modules);
  const known = new Set(readAgreements(context));
  const open = modules.filter(
    ({ unrun, path, digest }) =>
      unrun === undefined && !known.has(digest) && kindOnDisk(path) === 'file' && !isBelowOnDisk(path, themeFolder),
  );
  const [first] = open;
  if (first === undefined) return known;
  const shown = open.map(({ path }) => context.shown(path)).join(', ');
  if (!context.isAgreeing) {
    if (!context.io.isInteractive || context.isMachine)
      throw new UsageError({
        what: `${context.shown(first.layer.file)} names rules that you have not agreed to run: ${shown}`,
        why: 'a module of rules is a program; Pionero runs it only in the form that you agreed to',
        hint: 'read it, then agree once with --yes: pionero check --yes',
      });
    context.say(`${context.shown(first.layer.file)} names rules of its own, which are programs: ${shown}`);
    if ((await (await promptsFor(context.io)).confirm('Run them, now and later?')) !== true)
      throw new UsageError({ what: 'stopped: the rules were not run', hint: 'take them out of rule-files to do without them' });
  }
  const digests = open.map(({ digest }) => digest);
  await rememberAgreement(context, ...digests);
  return new Set([...known, ...digests]);
}

/** Whoever wrote rules down believes that they count. */
function sayUnrun(context: Context, modules: readonly RuleModule[]): void {
  for (const { path, layer, unrun } of modules) {
    if (unrun === undefined || context.mentioned.has(path)) continue;
    context.mentioned.add(path);
    const why =
      unrun === 'of-theme'
        ? 'a theme’s own configuration runs nothing'
        : `they are for who works in ${context.shown(dirname(layer.file))}; run it there to have them`;
    context.warn(`${context.paint.warn('▲')} The rules in ${context.shown(path)} are not run: ${why}.`);
  }
}
