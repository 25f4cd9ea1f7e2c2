import { text } from '../option.ts';
import { UsageError } from '../../core/errors.ts';
import { judgeId, type IdVerdict } from '../../core/placing/judge-id.ts';
import type { Platform } from '../../core/platform/platform.ts';
import { namesInCatalogue } from '../catalogue-access.ts';
import { defineCommand, type Context } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import { idProblemText, idVerdictText } from '../output/name-text.ts';
import { lookAround } from '../workspace.ts';
import { count } from '../../core/text/sentence.ts';

export default defineCommand({
  arguments: [{ form: '<ids...>', about: 'ids for a theme that is not there yet' }],
  options: {
    catalogue: text('ADDRESS', 'the address of a catalogue to ask; default: catalogue: in pionero.yaml'),
  },
  examples: ['pionero name lumbre --platform vereda', 'pionero name lumbre lumbre-alta sol --platform vereda'],
  async run(context, ids, options) {
    const { platforms, into } = lookAround(context, undefined);
    const [only, ...others] = platforms;
    const chosen = platforms.length > 0 ? platforms : context.platforms();
    const catalogues = new Map<Platform, readonly string[]>();
    // One question answers for all ids; one that did not answer is not asked again for the next platform.
    for (const platform of chosen) {
      const names = await namesInCatalogue(context, platform, options.catalogue);
      if (names === undefined) break;
      catalogues.set(platform, names);
    }
    const verdictsFor = (platform: Platform): IdVerdict[] => {
      const shelves = context.shelvesOf(platform, into);
      return ids.map((id) => judgeId(id, platform, shelves, catalogues.get(platform)));
    };
    if (only !== undefined && others.length === 0) {
      const verdicts = verdictsFor(only);
      context.say(verdicts.map((verdict) => idVerdictText(verdict, context.paint, (path) => context.shown(path))).join('\n\n'));
      context.result({ platform: only.contract.name, ids: verdicts });
      return verdicts.every(({ problems }) => problems.length === 0) ? ExitStatus.ok : ExitStatus.findings;
    }
    return overPlatforms(context, ids, chosen, verdictsFor);
  },
});

/** Where nothing tells the platform: a line for each, so that one sees which of them takes the id. */
function overPlatforms(
  context: Context,
  ids: readonly string[],
  platforms: readonly Platform[],
  verdictsFor: (platform: Platform) => IdVerdict[],
): ExitStatus {
  const { paint } = context;
  if (platforms.length === 0) throw new UsageError({ what: 'there is no platform', hint: 'name a platform file with --platform' });
  const all = platforms.map((platform) => ({ platform, verdicts: verdictsFor(platform) }));
  const width = Math.max(...platforms.map(({ contract }) => contract.name.length));
  for (const [i, id] of ids.entries()) {
    const usable = all.filter(({ verdicts }) => verdicts[i]?.problems.length === 0).length;
    context.say(
      `${usable > 0 ? paint.good('✓') : paint.bad('✗')} ${paint.strong(id)} can be used on ${usable} of ${count(all.length, 'platform')}`,
    );
    for (const { platform, verdicts } of all) {
      const { problems = [], alternatives = [] } = verdicts[i] ?? {};
      const [problem] = problems;
      const why = problem === undefined ? '' : idProblemText(problem, (path) => context.shown(path));
      const instead = problem === undefined || alternatives.length === 0 ? '' : paint.faint(`; ${alternatives[0]} could`);
      context.say(
        `  ${problem === undefined ? paint.good('✓') : paint.bad('✗')} ${platform.contract.name.padEnd(width)}  ${why}${instead}`.trimEnd(),
      );
    }
  }
  context.say(`\n${paint.name('→')} “--platform NAME” says more of one of them.`);
  context.result(all.map(({ platform, verdicts }) => ({ platform: platform.contract.name, ids: verdicts })));
  const isAnyUsable = ids.every((_id, i) => all.some(({ verdicts }) => verdicts[i]?.problems.length === 0));
  return isAnyUsable ? ExitStatus.ok : ExitStatus.findings;
}
