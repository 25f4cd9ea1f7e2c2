import { splitWords } from './spelling.ts';

/**
 * Words that mean something to every developer or reader: an id that is one of them does not prove by itself that a
 * place names the theme.
 */
const COMMON_WORDS: ReadonlySet<string> = new Set(
  `about absolute abstract accept action address admin align all alpha alt alternate anchor animation applet area array article
  aside aspect async audio author auto await back background balance base baseline basic beta between black blend
  blink block blog blue body bold book boolean border both bottom bound bounds box brand break bright brightness brown build
  button canvas caption card caret case catch cell center change child circle cite clamp class clean clear clip clone close
  closed cloud cluster code col collapse color cols column columns common compact compose const constant constructor contain
  container content contents continue contrast controls copy core corner count counter course cover crop cursor curve custom
  cycle dark dashed data datalist date debug declare decoration decrement default defer delay delete demo dense design desk
  details dialog digital direction disabled display dist distance do docs dotted double down download drag draggable drop
  duration ease echo edge editor effect elegant element ellipse ellipsis else embed empty enabled enctype end ends entry enum
  error eval even evenly event exception exit export extends fade false feature field fieldset figure file fill filter final
  finally first fit fixed flat flex float flow focus font foot footer force form forward frame frames frameset free fresh from
  front function gallery gap garden global gold goto gray green grey grid groove group handler hanging head header heading
  height hello hidden hide highlight home hook horizontal host hover href html hyphen icon id if iframe image img implements
  import include increase increment indent index infinite info inherit initial ink inline inner input inset inside instance
  interface invert isolate italic item items justified justify keep key kind label landscape lang language large last layer
  layers layout leading leaf left legend length let letter level library light line linear lines link list local look loop
  lower lowercase magazine main manual map margin mark marker mask master match max maximum media medium menu message meta
  meter method middle min mini minimal minimum mix mobile modal mode model modern modular module motion move multiple multiply
  muted name namespace narrow native nature nav navy near negative nest never new news next node none normal noscript note
  novalidate nowrap null number numeric object oblique odd offset opacity open option orange order orientation origin other
  outer outline output outset outside oval over overflow overlay package padding page paint panel paper parallel param parent
  part partial pass path pattern pause paused picture ping place placeholder placement plain play player plus point pointer
  points polar popup portal portrait position positive post poster preload preserve press primary print private pro process
  progress promise property protected prototype public punctuation pure query queue quick quotes radius range ratio read
  reading readonly record rectangle red region rel relative render repeat request require required reset resize resolution
  response return rev reverse reversed revert right river road rock role root rose rotate rotation round row rows rule run
  running safe samp sample sandbox saturate scale scheme scope screen script scroll search section select selected selection
  self serif session set shadow shape sheet shift shop show shrink side sideways simple single site size sizes skew skin sky
  slate slice slide slider slot slow small smart smooth snap snow soft solid sort source space spacing span speak spell
  spellcheck split spread square src stack standard star start states static status step steps sticky stone store stream
  stretch strict strike string stroke strong struct style sub summary sun super support svg swap switch symbol symbols system
  tab table tag target tbody team template test text textarea tfoot thead theme thick thin this thread throw time timeline
  timer timing title toggle token tooltip top touch track trait transform transition translate transparent tree trigger trim
  true try type types ultra undefined under underline union unit unset up update upload upper uppercase upright use usemap
  user value var variable variant vector vertical video view visibility visible visited void wave web weight where while white
  wide widget width will window wood word work worker world wrap wrapper writing yellow yield zero zone zoom`.split(/\s+/),
);

/**
 * How much a name says by itself: a `distinctive` one means the theme wherever it stands; a `short` one (oak, sol) or one
 * that is `part` of another theme's name (albar beside albar-wide) means it where the place supports that; a `common` word
 * (core, menu) only where the place proves it.
 */
export type Weight = 'distinctive' | 'part' | 'short' | 'common';

/** Judges a name beside the names of the other themes on the shelf. */
export function weigh(name: string, others: readonly string[] = []): Weight {
  const words = splitWords(name);
  if (words.length === 1 && COMMON_WORDS.has(words[0] ?? '')) return 'common';
  if (words.join('').length < 4) return 'short';
  const own = ` ${words.join(' ')} `;
  const isPart = others.map((other) => ` ${splitWords(other).join(' ')} `).some((other) => other !== own && other.includes(own));
  return isPart ? 'part' : 'distinctive';
}
