import { choice, flag, text, type Values } from '../option.ts';
import { lettersWithoutFont } from '../../core/covers/letters.ts';
import { drawCover, type CoverText } from '../../core/covers/draw-cover.ts';
import { isOurs, makePicture, markedSvg, stretchOf, type Focus } from '../../core/covers/make-picture.ts';
import { wantedSize } from '../../core/covers/wanted-size.ts';
import { fontKindOf, paletteOf } from '../../core/covers/palette.ts';
import { planBetween } from '../../core/changes/plan-between.ts';
import { RefusedError, UsageError } from '../../core/errors.ts';
import { withFiles } from '../../core/files/changed-tree.ts';
import { baseOf } from '../../core/files/file-tree.ts';
import { listAllKits } from '../../core/scaffold/kits.ts';
import type { Theme } from '../../core/theme/theme.ts';
import { readIfThere } from '../../core/files/disk.ts';
import { fillShape } from '../../core/names/shape.ts';
import type { ImageContract } from '../../core/platform/schema.ts';
import { pageName } from '../../core/rehearsal/pages.ts';
import { rehearseKept } from '../../core/rehearsal/kept.ts';
import { isNeeded } from '../../core/platform/platform.ts';
import type { OpenedTheme } from '../../core/theme/open.ts';
import { nearest } from '../../core/text/nearest.ts';
import { changeOptions, defineCommand, type Context } from '../command.ts';
import { isConfirmed } from '../confirm.ts';
import { ExitStatus } from '../exit-status.ts';
import { bytes } from '../output/paint.ts';
import { lookAtKept } from '../shots.ts';
import { openArgument } from '../theme-argument.ts';
import { count, didYouMean, listed, plural } from '../../core/text/sentence.ts';

const FOCUSES = ['centre', 'top', 'bottom', 'left', 'right', 'subject'] as const;

const OPTIONS = {
  role: text('ROLE', 'one of the pictures that the platform knows; default: those that it asks for'),
  from: text('FILE', 'a picture to make it of'),
  page: text('ROLE', 'a page of the theme, as a browser shows it, to make it of'),
  focus: choice(FOCUSES, 'PART', 'what stays of a picture of another shape; subject: where there is most to see'),
  force: flag('replace a picture that was made by hand'),
  ...changeOptions,
};
type Options = Values<typeof OPTIONS>;

export default defineCommand({
  arguments: [{ form: '[theme]', about: 'a theme’s folder, or its id on a shelf; default: the current folder' }],
  options: OPTIONS,
  examples: ['pionero cover lumbre', 'pionero cover lumbre --page front', 'pionero cover lumbre --from mock-up.png --focus top'],
  async run(context, [argument], options) {
    if (options.from !== undefined && options.page !== undefined)
      throw new UsageError({ what: '--from and --page both say what the picture is made of', hint: 'leave one of them out' });
    const opened = await openArgument(argument, context, { isLenient: true });
    const { theme, folder } = opened;
    const images = imagesWanted(opened, options.role);
    const source = await sourceOf(context, opened, options);
    const files = new Map<string, Buffer>();
    for (const image of images) {
      const path = fillShape(image.path, theme.names);
      await refuseHandMade(opened, path, options.force);
      files.set(path, await pictureFor(opened, image, source, options.focus));
    }
    if (options.from !== undefined && source !== undefined) await warnOfSmall(context, source, images);
    if (source === undefined) await warnOfLetters(context, opened, images);
    const changed = [...files].filter(([path, made]) => theme.tree.get(path) === undefined || !theme.tree.read(path).equals(made));
    const { paint } = context;
    const how =
      options.page !== undefined
        ? `of the page “${options.page}”`
        : options.from !== undefined
          ? `of ${options.from}`
          : 'drawn with its title and colors';
    for (const image of images) {
      const path = fillShape(image.path, theme.names);
      const { width, height } = wantedSize(image);
      const isChanged = changed.some(([each]) => each === path);
      const sign = !isChanged ? ' ' : theme.tree.get(path) === undefined ? paint.good('+') : paint.warn('~');
      context.say(
        `  ${sign} ${path}  ${paint.faint(`${image.role}, ${width} × ${height}, ${bytes(files.get(path)?.length ?? 0)}, ${how}`)}`,
      );
    }
    if (changed.length === 0) context.say(`${paint.good('✓')} nothing to change`);
    const isApplied = changed.length > 0 && (await isConfirmed(context, options, `Write ${count(changed.length, 'picture')}?`));
    if (isApplied) {
      const touched = new Set(changed.map(([path]) => path));
      await context.apply(planBetween(`cover (${theme.names.id})`, folder, theme.tree, withFiles(theme.tree, new Map(changed)), touched));
      context.say(`${paint.good('✓')} ${count(changed.length, 'picture')} of ${theme.names.id} written; “pionero undo” reverts it.`);
    }
    context.result({
      theme: theme.names.id,
      pictures: images.map((image) => {
        const path = fillShape(image.path, theme.names);
        return {
          role: image.role,
          path,
          ...wantedSize(image),
          bytes: files.get(path)?.length ?? 0,
          changed: changed.some(([each]) => each === path),
        };
      }),
      applied: isApplied,
    });
    return ExitStatus.ok;
  },
});

/** The pictures to be made. @throws UsageError when the platform knows none, or not that one */
function imagesWanted({ theme }: OpenedTheme, role: string | undefined): readonly ImageContract[] {
  const { images, title } = theme.platform.contract;
  if (images.length === 0) throw new UsageError({ what: `${title} does not ask for pictures`, hint: 'there is nothing to make' });
  const usual = images.filter(({ recommended, required }) => recommended || isNeeded(required, theme.isChild));
  if (role === undefined) return usual.length > 0 ? usual : images;
  const wanted = images.find((image) => image.role === role);
  if (wanted !== undefined) return [wanted];
  const roles = images.map((image) => image.role);
  const near = nearest(role, roles);
  throw new UsageError({
    what: `${title} has no picture “${role}”`,
    hint: didYouMean(near, `it knows ${roles.join(', ')}`),
  });
}

interface Source {
  readonly picture: Buffer;
  /** What messages call it. */
  readonly called: string;
  readonly focus: Focus;
}

/** The photographs or texts that the pictures are made from; undefined when they are drawn. */
async function sourceOf(context: Context, { theme, shelves }: OpenedTheme, { from, page }: Options): Promise<Source | undefined> {
  if (from !== undefined) {
    const picture = readIfThere(context.path(from));
    if (picture === undefined) throw new UsageError({ what: `there is no picture ${from}`, hint: 'check the path' });
    return { picture, called: from, focus: 'centre' };
  }
  if (page === undefined) return undefined;
  const { platform, tree, names } = theme;
  const kept = await context.changing(async (applying) => rehearseKept({ platform, tree, names, shelves, applying }));
  const shown = kept.pages.filter(({ isRendered }) => isRendered);
  const wanted = shown.find(({ role }) => role === page);
  if (wanted === undefined)
    throw new UsageError({
      what: kept.recognised ? `there is no page “${page}” to be shown` : `${names.id} is not recognized: it has no pages`,
      hint: shown.length === 0 ? 'leave --page out: then the picture is drawn' : `there are ${shown.map(({ role }) => role).join(', ')}`,
    });
  const looks = await lookAtKept(context, { ...kept, pages: [wanted] }, false);
  const look = looks.find(({ name, viewport }) => name === pageName(wanted) && viewport.name === 'desktop');
  if (look === undefined) throw new RefusedError({ what: `the page “${page}” cannot be shown`, hint: '“pionero rehearse” says why' });
  return { picture: look.picture, called: `the page “${page}”`, focus: 'top' };
}

/** Stretched by less, nobody sees it. */
const SEEN_STRETCH = 1.25;

async function warnOfSmall(context: Context, { picture, called }: Source, images: readonly ImageContract[]): Promise<void> {
  for (const image of images) {
    const { width, height } = wantedSize(image);
    if ((await stretchOf(picture, { width, height })) > SEEN_STRETCH)
      context.warn(
        `${context.paint.warn('▲')} ${called} is small for the ${image.role}, which is ${width} × ${height}: it is blurred there.`,
      );
  }
}

/** @throws RefusedError when a picture is there that someone has made, and nobody said to replace it */
async function refuseHandMade({ theme, shelves }: OpenedTheme, path: string, isForced: boolean): Promise<void> {
  const entry = theme.tree.get(path);
  if (isForced || entry === undefined) return;
  if (entry.kind === 'file') {
    const picture = theme.tree.read(path);
    if (await isOurs(picture)) return;
    // The kit’s own, which came with the theme.
    const kits = listAllKits({ platform: theme.platform, shelves });
    if (kits.some((kit) => pictureIn(kit.theme, path)?.equals(picture) === true)) return;
  }
  throw new RefusedError({
    what: `${path} was made by hand and is kept`,
    hint: 'use --force to replace it, or --role to make another one',
  });
}

/** A picture of a kit, in the place where it is called so. */
function pictureIn({ tree, names, platform }: Theme, path: string): Buffer | undefined {
  const places = [path, ...platform.contract.images.map((image) => fillShape(image.path, names))];
  const place = places.find((each) => baseOf(each) === baseOf(path) && tree.get(each)?.kind === 'file');
  return place === undefined ? undefined : tree.read(place);
}

/** The words on a drawn picture. */
function coverText(theme: Theme): CoverText {
  const foot = [theme.text('author'), theme.text('version')].filter((each) => each !== undefined && each !== '').join(' · ');
  return { title: theme.names.title ?? theme.names.id, summary: theme.text('summary'), foot: foot === '' ? undefined : foot };
}

/** Where no font has the letters of the title, boxes are drawn. */
async function warnOfLetters(context: Context, { theme, chain }: OpenedTheme, images: readonly ImageContract[]): Promise<void> {
  // An SVG is shown with the fonts of whoever looks at it.
  if (images.every(({ formats }) => formats.every((each) => each === 'svg'))) return;
  const { title, summary = '', foot = '' } = coverText(theme);
  const missing = await lettersWithoutFont(`${title}${summary}${foot}`, fontKindOf(chain));
  if (missing.length === 0) return;
  const { paint } = context;
  context.warn(
    `${paint.warn('▲')} No font here has ${plural(missing.length, 'the letter', 'the letters')} ${listed(missing, 12)}: boxes stand in ${plural(missing.length, 'its', 'their')} place.\n` +
      `  ${paint.name('→')} install a font that has ${plural(missing.length, 'it', 'them')}, or make the picture of a page (--page) or a file (--from)`,
  );
}

async function pictureFor(
  { theme, chain }: OpenedTheme,
  image: ImageContract,
  source: Source | undefined,
  focus: Focus | undefined,
): Promise<Buffer> {
  const size = wantedSize(image);
  if (source !== undefined) {
    if (image.formats.every((each) => each === 'svg'))
      throw new UsageError({
        what: `the ${image.role} is an SVG: a picture of pixels cannot become one`,
        hint: 'leave --from and --page out: then it is drawn',
      });
    return makePicture(source.picture, source.called, image, size, focus ?? source.focus);
  }
  const drawn = drawCover(coverText(theme), paletteOf(chain), fontKindOf(chain), size.width, size.height);
  if (image.formats.every((each) => each === 'svg')) return Buffer.from(markedSvg(drawn));
  return makePicture(Buffer.from(drawn), `the drawing for the ${image.role}`, image, size, 'centre');
}
