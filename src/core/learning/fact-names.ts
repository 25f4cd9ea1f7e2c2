/** The names of keys that carry a fact, in the words of many programs. */
const FACTS: readonly (readonly [fact: string, names: RegExp])[] = [
  ['title', /^(?:title|name|label|display ?name|theme ?name|theme)$/i],
  ['version', /^(?:theme ?)?(?:version|release|revision)$/i],
  ['summary', /^(?:theme ?)?(?:description|summary|about|comment|tagline)$/i],
  ['author', /^(?:theme ?)?(?:authors?|maintainers?|made ?by|creator)(?: ?name)?$/i],
  ['license', /^(?:theme ?)?licen[cs]e$/i],
  ['homepage', /^(?:theme ?)?(?:homepage|home ?page|url|website|uri|link)$/i],
  ['parent', /^(?:parent(?: ?theme)?|extends?|inherits?(?: ?from)?|base(?: ?theme)?|based ?on|template|follows)$/i],
  ['tags', /^(?:tags|keywords|topics)$/i],
  ['id', /^(?:id|slug|key|machine ?name|identifier|code|theme ?id|plugin ?id)$/i],
  ['cover', /^(?:cover|screenshot|preview|thumbnail|thumb|picture)$/i],
  ['hosts', /^(?:hosts|requires|compatib\w*|engines?|api|supports)$/i],
  ['language', /^(?:lang(?:uage)?|locale)$/i],
];

/** The fact that a key speaks of, by the words that the trade has for it; undefined for what is only this host's. */
export function factNamed(path: readonly string[]): string | undefined {
  const last = (path.at(-1) ?? '')
    .replace(/^[@#]/, '')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/[_-]+/g, ' ');
  return FACTS.find(([, names]) => names.test(last))?.[0];
}

/** A name of its own for a key that carries no known fact. */
export function factName(path: readonly string[]): string {
  const words = path
    .map((part) => part.replace(/[^A-Za-z0-9]+/g, ' ').trim())
    .join(' ')
    .split(/\s+/)
    .filter((word) => word !== '');
  const name = words.map((word, i) => `${i === 0 ? word.charAt(0).toLowerCase() : word.charAt(0).toUpperCase()}${word.slice(1)}`).join('');
  return /^[a-z]/i.test(name) ? name : `value${name}`;
}
