import { flag, text, type Values } from '../option.ts';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { withTemporary } from '../../core/changes/temporary.ts';
import { FailedOperationError, UsageError } from '../../core/errors.ts';
import { readIfThere, temporaryFolder } from '../../core/files/disk.ts';
import { planPackage } from '../../core/package/pack-theme.ts';
import type { SubmissionState } from '../../core/web/catalogue-protocol.ts';
import { catalogueAddress, catalogueAt, isSenderKnown, refuseUnknownSender } from '../catalogue-access.ts';
import { changeOptions, defineCommand, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { reviewText, submissionsText, trialText } from '../output/review-text.ts';
import { bytes } from '../output/paint.ts';
import { proofText, readable, refuseErrors, timeWanted, writeArchive } from '../packing.ts';
import { openArgument, themeAbove } from '../theme-argument.ts';
import type { Theme } from '../../core/theme/theme.ts';
import { count } from '../../core/text/sentence.ts';

/** A theme that a catalogue is asked of. */
type TriedTheme = Pick<Theme, 'platform' | 'names'> & { readonly version: string | undefined };

/** So long a review is followed. */
const PATIENCE_MS = 60_000;

const OPTIONS = {
  catalogue: text('ADDRESS', 'the address of the catalogue; default: catalogue: in pionero.yaml'),
  status: text('SUBMISSION', 'tell what became of a submission that was handed in before'),
  list: flag('list your submissions and what became of each'),
  yes: changeOptions.yes,
  dryRun: flag('hand nothing in: ask what the catalogue would say of it'),
};
type Options = Values<typeof OPTIONS>;

export default defineCommand({
  arguments: [{ form: '[theme]', about: 'a theme’s folder, or its id on a shelf; default: the current folder' }],
  options: OPTIONS,
  examples: ['pionero submit lumbre --catalogue http://127.0.0.1:8090 --yes', 'pionero submit lumbre --dry-run', 'pionero submit --list'],
  async run(context, [argument], options) {
    if (options.list) return listOwn(context, options);
    if (options.status !== undefined) return tellOf(context, options.status, options);
    const opened = await openArgument(argument, context);
    const { theme, configuration } = opened;
    const address = options.catalogue ?? catalogueAddress(context, opened.folder, opened.folder);
    if (address === undefined) throw noAddress();
    const { paint } = context;
    // A failure that is certain is reported at the beginning, not at the end.
    await catalogueAt(context, address);
    if (!options.dryRun) refuseUnknownSender(context, address);
    const plan = planPackage(theme, configuration.pack.exclude, undefined, timeWanted(context));
    refuseErrors(context, opened, false, plan);
    const temporary = join(temporaryFolder(), `pionero-submit-${randomBytes(8).toString('hex')}`);
    const { journal } = context;
    return withTemporary(journal, temporary, async () => {
      await journal.writer.makePrivateFolder(temporary);
      const file = join(temporary, plan.name);
      const wishes = { for: 'submission', prove: true, force: false } as const;
      const { packed, proof } = await readable(async () => writeArchive(context, opened, plan, file, wishes));
      const archive = readIfThere(file);
      if (archive?.length !== packed.bytes)
        throw new FailedOperationError({ what: 'the archive has changed since', hint: 'nothing was sent' });
      context.say(`${paint.strong(theme.names.id)} ${theme.text('version') ?? ''} goes to ${paint.name(address)}:`);
      context.say(
        `  ${plan.name}  ${paint.faint(`${count(plan.entries.filter(({ kind }) => kind === 'file').length, 'file')}, ${bytes(packed.bytes)}, ${proofText(proof)}`)}`,
      );
      context.say(paint.faint(`  sha256 ${packed.sha256}`));
      if (plan.leftOut.length > 0) context.say(paint.faint(`  left out: ${plan.leftOut.map(({ path }) => path).join(', ')}`));
      if (options.dryRun)
        return tryOut(
          context,
          address,
          { platform: theme.platform, names: theme.names, version: theme.text('version') },
          plan.name,
          archive,
        );
      if (!(await isConfirmed(context, options, 'Send it?'))) {
        context.result({ theme: theme.names.id, address, sha256: packed.sha256, sent: false });
        return ExitStatus.ok;
      }
      return context.io.withInterrupt(async (signal) => {
        const client = await catalogueAt(context, address, signal);
        const sent = await client.submit(theme.platform.contract.name, plan.name, archive);
        context.say(
          sent.state === 'in-review'
            ? `\n${paint.good('✓')} sent; in review as ${sent.submission}`
            : `\nThe same archive had been handed in before, as ${sent.submission}.`,
        );
        return tell(context, address, await client.follow(sent, PATIENCE_MS));
      });
    });
  },
});

/** Asks the catalogue what it would say of an archive; where it does not know the sender, what its public names tell. */
async function tryOut(
  context: Context,
  address: string,
  { platform, names, ...theme }: TriedTheme,
  file: string,
  archive: Buffer,
): Promise<ExitStatus> {
  const { paint } = context;
  const { name } = platform.contract;
  return context.io.withInterrupt(async (signal) => {
    const client = await catalogueAt(context, address, signal);
    const trial = isSenderKnown(context, address) ? await client.trial(name, file, archive) : undefined;
    if (trial !== undefined) {
      context.say(`\n${trialText(trial, address, paint, context.io.columns)}`);
      context.say(paint.faint('Dry run: nothing was handed in.'));
      context.result({ address, ...trial, sent: false });
      return trial.state === 'returned' ? ExitStatus.findings : ExitStatus.ok;
    }
    const id = names.vendor === undefined ? names.id : `${names.vendor}.${names.id}`;
    const known = await client.theme(name, id);
    const isThere = known?.versions.some(({ version }) => version === theme.version) === true;
    const said =
      known === undefined
        ? `${paint.good('✓')} The name ${id} is free at ${address}`
        : `${isThere ? paint.bad('✗') : paint.warn('▲')} ${address} has ${known.id} ${known.version} already${isThere ? ': raise the version' : '; it must be yours'}`;
    context.say(`\n${said}\n${paint.faint('Dry run: nothing was handed in, and the catalogue was asked for the name alone.')}`);
    context.result({
      address,
      platform: name,
      id,
      state: null,
      reasons: isThere ? [`version ${theme.version ?? ''} is there already`] : [],
      sent: false,
    });
    return isThere ? ExitStatus.findings : ExitStatus.ok;
  });
}

/** The submissions of whoever the token says, a line each. */
async function listOwn(context: Context, options: Options): Promise<ExitStatus> {
  const address = addressAround(context, options);
  return context.io.withInterrupt(async (signal) => {
    const submissions = await (await catalogueAt(context, address, signal)).submissions();
    context.say(submissionsText(submissions, address, context.paint));
    context.result({ address, submissions });
    return ExitStatus.ok;
  });
}

/** @throws UsageError when no catalogue is named or configured, or nothing says who asks */
function addressAround(context: Context, { catalogue }: Options): string {
  const address = catalogue ?? catalogueAddress(context, context.io.folder, themeAbove(context.io.folder, context));
  if (address === undefined) throw noAddress();
  refuseUnknownSender(context, address);
  return address;
}

async function tellOf(context: Context, submission: string, options: Options): Promise<ExitStatus> {
  const address = addressAround(context, options);
  return context.io.withInterrupt(async (signal) =>
    tell(context, address, await (await catalogueAt(context, address, signal)).submission(submission)),
  );
}

function tell(context: Context, address: string, state: SubmissionState): ExitStatus {
  context.say(`\n${reviewText(state, address, context.paint, context.io.columns)}`);
  context.result({ address, ...state, sent: true });
  return state.state === 'returned' ? ExitStatus.findings : ExitStatus.ok;
}

function noAddress(): UsageError {
  return new UsageError({
    what: 'to which catalogue?',
    hint: 'name its address with --catalogue, or put “catalogue: ADDRESS” into a pionero.yaml in the current folder or above it; one in the theme itself does not count',
  });
}
