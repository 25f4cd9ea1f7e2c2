import { matchesOf } from '../../contents/references.ts';
import { templateAt } from '../../contents/templates.ts';
import { matchesAny } from '../../files/glob.ts';
import { compareReleases } from '../../platform/platform.ts';
import type { ChangeContract } from '../../platform/schema.ts';
import { liesIn } from '../../templates/template.ts';
import type { SourceDocument } from '../../text/source-document.ts';
import type { Theme } from '../../theme/theme.ts';
import { findZones, zoneAt } from '../../text/zones.ts';
import { advices } from '../advice.ts';
import { fixOf, type Report, type Rule } from '../rule.ts';

const advise = advices({
  'older-need-it': 'write {value} once releases before {since} need not be served: “pionero upgrade” does it',
  'state-newer': 'state {since} as the oldest release, or do without it',
  decide: 'decide what takes its place',
});

/** Code and markup that stated releases of the host know under another name, or not at all. */
export const releaseChanged: Rule = {
  meta: {
    id: 'release/changed',
    severity: 'error',
    tag: 'outdated',
    isOfReleases: true,
    summary: 'A name that a stated release of the host calls otherwise, or has taken away',
    why: 'Hosts keep names for some releases and then drop them: what still asks for one stops, or shows nothing.',
    messages: {
      gone: '“{written}” is gone from release {gone} on: {why}',
      going: '“{written}” is called “{now}” from release {since} on, and gone from {gone} on',
      old: '“{written}” is called “{now}” from release {since} on',
      early: '“{now}” is there from release {since} on, and the theme is for {older}, too',
    },
    example: {
      platform: 'vereda',
      wrong: { 'hooks.php': '<?php\nhost_part("menu", "cierzo_menu");\nfunction cierzo_menu() {}\n' },
      right: { 'hooks.php': '<?php\nhost_on("menu", "cierzo_menu");\nfunction cierzo_menu() {}\n' },
    },
  },
  *checkText(source, { theme, releases, areReleasesKnown }) {
    if (!areReleasesKnown) return;
    for (const change of theme.platform.contract.changes) {
      if (!matchesAny(source.file, change.files)) continue;
      const { since } = change;
      const newer = releases.filter((release) => compareReleases(release, since) >= 0);
      if (newer.length > 0) yield* olderWays(theme, source, change, { newer, releases });
      const tooOld = releases.filter((release) => !newer.includes(release));
      // Who states no releases means those that a host has now.
      if (tooOld.length > 0 && theme.hosts !== undefined) yield* newerWays(theme, source, change, tooOld);
    }
  },
};

/** Names that newer releases call otherwise. */
function* olderWays(
  theme: Theme,
  source: SourceDocument,
  { written: shape, now: newShape, since, gone = since, why }: ChangeContract,
  { newer, releases }: { readonly newer: readonly string[]; readonly releases: readonly string[] },
): Generator<Report> {
  const isGone = newer.some((release) => compareReleases(release, gone) >= 0);
  // Where an older release is stated, too, the new way is wrong there.
  const isForAll = newer.length === releases.length;
  for (const match of placesOf(theme, source, shape)) {
    const [written] = match;
    const value = newShape?.replaceAll(/\{(name|path)\}/g, (_whole, key: string) => match.groups?.[key] ?? '');
    const range = { start: match.index, end: match.index + written.length };
    yield {
      message: value === undefined ? 'gone' : isGone && gone === since ? 'old' : 'going',
      args: { written, now: value, since, gone, why },
      file: source.file,
      source,
      range,
      severity: isGone ? 'error' : isForAll ? 'warning' : 'note',
      hint: value === undefined ? advise('decide') : isForAll ? advise('write', { value }) : advise('older-need-it', { value, since }),
      fix: value === undefined ? undefined : fixOf(advise('write', { value }), isForAll, source.file, [{ ...range, text: value }]),
    };
  }
}

/** Names that the oldest of the stated releases do not know yet. */
function* newerWays(theme: Theme, source: SourceDocument, { now, since }: ChangeContract, tooOld: readonly string[]): Generator<Report> {
  for (const match of now === undefined ? [] : placesOf(theme, source, now)) {
    const [found] = match;
    yield {
      message: 'early',
      args: { now: found, since, older: tooOld.join(', ') },
      file: source.file,
      source,
      range: { start: match.index, end: match.index + found.length },
      hint: advise('state-newer', { since }),
    };
  }
}

/** Where a text of the theme holds a shape, comments aside. */
function placesOf(theme: Theme, source: SourceDocument, shape: string): RegExpExecArray[] {
  const found = matchesOf(shape, source.text, theme.names);
  if (found.length === 0) return found;
  const comments = templateAt(theme, source.file)?.template.comments;
  const zones = comments === undefined ? findZones(source.file, source.text) : [];
  return found.filter(({ index }) => (comments === undefined ? zoneAt(zones, index) !== 'comment' : !liesIn(comments, index)));
}
