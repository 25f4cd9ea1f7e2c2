import type { Mention } from '../mention.ts';
import { KEPT, type Judge } from './judge.ts';

/** The vendor, who is called like the theme and keeps the name. */
export const vendor: Judge = {
  code: 'vendor',
  sentence: 'the vendor’s name, which stays',
  examples: [
    {
      file: 'a.php',
      text: "<?php load('site/«Albar»/albar/x.css');",
      becomes: "<?php load('site/Albar/lumbre/x.css');",
      names: 'Albar/albar → Albar/lumbre',
    },
    {
      file: 'composer.json',
      text: '{ "name": "«albar»/albar" }',
      becomes: '{ "name": "albar/lumbre" }',
      names: 'Albar/albar → Albar/lumbre',
    },
  ],
  judge: (mention) => (mention.matching.vendor !== undefined && isVendor(mention, mention.matching.vendor) ? KEPT : undefined),
};

/** Before the theme itself: `Quilla/quilla`, `Quilla\\Quilla`; in small letters where nothing else stands around the two. */
function isVendor(mention: Mention, vendor: string): boolean {
  if (mention.pair.sort === 'vendor' || !mention.pair.finder.isIn(vendor)) return false;
  const rest = mention.after(120);
  const joint = /^(?:[/\\:.]+)/.exec(rest)?.[0];
  if (joint === undefined) return false;
  const next = mention.pair.finder.find(rest).find(({ start }) => start === joint.length);
  if (next === undefined) return false;
  if (mention.found === vendor) return true;
  return /["']/.test(mention.before(1)) && joint === '/' && /^["']/.test(rest.slice(next.end));
}
