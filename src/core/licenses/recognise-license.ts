import currentIds from 'spdx-license-ids/index.json' with { type: 'json' };
import { licensesAtHand, licenseText } from './license-texts.ts';

/** So much of two texts is the same when one is a copy of the other: holders, years and line ends differ. */
const SAME = 0.9;
/** A text that holds a license among others is longer than it. */
const HELD = 0.97;

/** So little tells texts of one license from each other. */
const SLIGHT = 0.005;
/** So many pairs of words tell a text that another holds. */
const LONG = 400;
/** So much of it is the same when no other license needs to be looked at. */
const CERTAIN = 0.98;

/** Whether a text is the license of an SPDX id, or holds it beside others; undefined when the license’s text is not at hand. */
export function isTextOf(text: string, id: string): boolean | undefined {
  const wanted = pairsOfId(id);
  if (wanted === undefined) return undefined;
  const own = pairsOf(text);
  if (!isCopy(own, wanted)) return false;
  // Licenses of one family differ by a clause: the nearest decides.
  return (
    likeness(own, wanted) >= CERTAIN || heldShare(own, wanted) === 1 || (nearestLicense(own)?.alike ?? 0) <= likeness(own, wanted) + SLIGHT
  );
}

/** The SPDX id of the license that a text is; undefined for an unknown text. Of licenses of one text, the first by name. */
export function recogniseLicense(text: string): string | undefined {
  return nearestLicense(pairsOf(text))?.id;
}

function nearestLicense(own: ReadonlySet<string>): { id: string; alike: number } | undefined {
  let best: { id: string; alike: number } | undefined;
  // Several ids have one text: an old one is never meant.
  for (const id of licensesAtHand().filter((each) => currentIds.includes(each))) {
    const wanted = isLikely(own, id) ? pairsOfId(id) : undefined;
    if (wanted === undefined || !isCopy(own, wanted)) continue;
    const alike = likeness(own, wanted);
    if (best === undefined || alike > best.alike) best = { id, alike };
  }
  return best;
}

/** So many characters of a license tell whether it is worth looking at as a whole. */
const PROBE_CHARACTERS = 300;
const PROBED = 0.6;

/** Whether one of three stretches of a license is in a text: to look at all licenses as a whole takes half a second. */
function isLikely(own: ReadonlySet<string>, id: string): boolean {
  return probesOf(id).some((probe) => heldShare(own, probe) >= PROBED);
}

const probes = new Map<string, readonly ReadonlySet<string>[]>();

function probesOf(id: string): readonly ReadonlySet<string>[] {
  const made = probes.get(id);
  if (made !== undefined) return made;
  const text = licenseText(id) ?? '';
  const cut = [0.1, 1 / 3, 2 / 3].map((part) => {
    const start = Math.max(0, Math.round(text.length * part) - PROBE_CHARACTERS / 2);
    return pairsOf(text.slice(start, start + PROBE_CHARACTERS));
  });
  probes.set(id, cut);
  return cut;
}

function isCopy(own: ReadonlySet<string>, wanted: ReadonlySet<string>): boolean {
  if (likeness(own, wanted) >= SAME || heldShare(own, wanted) >= HELD) return true;
  // Some licenses are kept with another that they build on, and are given without it.
  return own.size >= LONG && heldShare(wanted, own) >= HELD;
}

/** Dice’s coefficient of the pairs of words. */
function likeness(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  return (2 * shared(a, b)) / Math.max(1, a.size + b.size);
}

function heldShare(own: ReadonlySet<string>, wanted: ReadonlySet<string>): number {
  return shared(own, wanted) / Math.max(1, wanted.size);
}

function shared(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  let count = 0;
  for (const pair of a) if (b.has(pair)) count++;
  return count;
}

const known = new Map<string, ReadonlySet<string> | undefined>();

function pairsOfId(id: string): ReadonlySet<string> | undefined {
  if (!known.has(id)) {
    const text = licenseText(id);
    known.set(id, text === undefined ? undefined : pairsOf(text));
  }
  return known.get(id);
}

/**
 * The pairs of neighboring words of a text. Copyright lines, punctuation, case and line ends do not count, as the matching guidelines of the
 * SPDX specification (annex B) have it.
 */
function pairsOf(text: string): ReadonlySet<string> {
  const words = text
    .replace(/^.*(?:copyright\s*(?:\(c\)|©|<|\d)|\(c\)\s*\d|©\s*\d).*$/gim, ' ')
    .toLowerCase()
    .replaceAll('licence', 'license')
    .match(/[\p{L}\p{N}]+/gu);
  const pairs = new Set<string>();
  for (const [i, word] of (words ?? []).entries()) if (i > 0) pairs.add(`${words?.[i - 1]} ${word}`);
  return pairs;
}
