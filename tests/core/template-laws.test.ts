import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { KNOWN_LANGUAGES } from '../../src/core/platform/known-languages.ts';
import { PlatformSchema } from '../../src/core/platform/schema.ts';
import { describedLanguage } from '../../src/core/templates/described.ts';
import { languageOf } from '../../src/core/templates/languages.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';

/** How the tags of a language are written; a name stands for `NAME`. */
interface Tags {
  readonly include: readonly string[];
  readonly print: readonly string[];
  readonly comment: readonly string[];
  /** What opens a section, and what closes it. */
  readonly section: readonly (readonly [open: string, close: string])[];
}

/** Of languages that need no description. */
const NAMED: Readonly<Record<string, Tags>> & { readonly mustache: Tags } = {
  mustache: {
    include: ['{{> NAME }}', '{{>NAME}}'],
    print: ['{{NAME}}', '{{{ NAME }}}', '{{& NAME}}'],
    comment: ['{{! NAME }}'],
    section: [
      ['{{#NAME}}', '{{/NAME}}'],
      ['{{^ NAME }}', '{{/ NAME }}'],
    ],
  },
};

const shipped = shippedPlatforms()
  .flatMap(({ contract: { templates } }) => (templates === undefined ? [] : [templates]))
  // What its tags hold has to be a program: tests/core/language.test.ts has some.
  .filter(({ language }) => typeof language === 'string' || language.code.length === 0);
// A language whose conditions are code has no sections that could be told.
const byName = Object.keys(KNOWN_LANGUAGES)
  .filter((name) => name !== 'ejs')
  .map((language) => PlatformSchema.shape.templates.unwrap().parse({ language, files: ['x'], roles: {} }));
/** Every language of a shipped platform, and every one that is known by name, once. */
const contracts = new Map(
  [...shipped, ...byName].map((templates) => [
    typeof templates.language === 'string' ? templates.language : templates.language.called,
    templates,
  ]),
);
const LANGUAGES = [...contracts].map(([name, templates]) => {
  const { language } = templates;
  if (typeof language === 'string') return [name, languageOf(templates), NAMED[language] ?? NAMED.mustache] as const;
  // What may be absent is there in one way to write a tag, and not in the other.
  const shapes = (list: readonly string[]): string[] =>
    list.flatMap((shape) => {
      const whole = shape.replace(/\{(?:path|name|text)\}/, 'NAME');
      return [...new Set([whole.replaceAll(/\{\?[^{}]+\}/g, ''), whole.replaceAll(/\{\?([^{}]+)\}/g, '$1')])];
    });
  const tags: Tags = {
    include: shapes(language.include).filter((shape) => /[^\w,"]$/.test(shape) && !shape.includes('{name}')),
    print: shapes(language.print),
    comment: shapes(language.comment),
    section: language.sections.flatMap(({ opens, closes }) =>
      shapes([opens]).map((open, i) => [open, shapes([closes])[i]?.replace('NAME', '') ?? ''] as const),
    ),
  };
  return [name, languageOf(templates), tags] as const;
});

/** A language in which any closing tag ends the innermost section. */
const ANY_CLOSING = {
  ...{ comment: ['{# {text} #}'], include: ['{% include "{path}" %}'], extend: [], print: ['{{ {text} }}'], raw: [], sections: [] },
  ...{ opens: ['{% if {text} %}', '{% for {text} %}'], closes: ['{% end{text} %}'], names: [], code: [] },
};
const ANY_CLOSING_TAGS: Tags = {
  ...{ include: ['{% include "NAME" %}'], print: ['{{ NAME }}'], comment: ['{# NAME #}'] },
  section: [
    ['{% if NAME %}', '{% endif %}'],
    ['{% for NAME %}', '{% end NAME %}'],
  ],
};

type Node =
  | string
  | {
      readonly tag: 'include' | 'print' | 'comment' | 'section';
      readonly name: string;
      readonly way: number;
      readonly inside: readonly Node[];
    };

const names = fc.stringMatching(/^[a-z]{1,6}$/);
const { nodes } = fc.letrec<{ node: Node; nodes: readonly Node[] }>((tie) => ({
  node: fc.oneof(
    { depthSize: 'small' },
    fc.constantFrom('<p>hut</p>', 'door, lamp\n', ' ', 'ñandú', '<a href="x">'),
    fc.record({ tag: fc.constantFrom('include', 'print', 'comment'), name: names, way: fc.nat(40), inside: fc.constant([]) }),
    fc.record({ tag: fc.constant('section'), name: names, way: fc.nat(40), inside: tie('nodes') }),
  ),
  nodes: fc.array(tie('node'), { maxLength: 5 }),
}));

/** Prints a template, and says what its index must be. */
function printed(all: readonly Node[], tags: Tags) {
  let text = '';
  const index = { includes: [] as string[], prints: [] as string[], comments: [] as string[], sections: [] as string[] };
  const closings: { start: number; end: number }[] = [];
  const lists = { include: index.includes, print: index.prints, comment: index.comments };
  const add = (node: Node): void => {
    if (typeof node === 'string') {
      text += node;
      return;
    }
    const { tag, name, way } = node;
    if (tag !== 'section') {
      const shape = tags[tag][way % Math.max(1, tags[tag].length)];
      if (shape === undefined) return;
      lists[tag].push(tag === 'comment' ? String(text.length) : `${name} at ${text.length}`);
      text += shape.replace('NAME', name);
      return;
    }
    const [open, close] = tags.section[way % tags.section.length] ?? ['', ''];
    const [at, place] = [text.length, index.sections.push('') - 1];
    text += open.replace('NAME', name);
    for (const each of node.inside) add(each);
    closings.push({ start: text.length, end: text.length + close.replace('NAME', name).length });
    text += close.replace('NAME', name);
    index.sections[place] = `${name} from ${at} to ${text.length}`;
  };
  for (const each of all) add(each);
  return { text, index, closings };
}

describe.each([...LANGUAGES, ['one with one closing tag', describedLanguage(ANY_CLOSING), ANY_CLOSING_TAGS] as const])(
  'templates in %s',
  (_name, language, tags) => {
    it('have in their index what was printed', () => {
      fc.assert(
        fc.property(nodes, (all) => {
          const { text, index } = printed(all, tags);
          const { includes, prints, comments, sections, texts, problems } = language.read(text);
          expect({
            includes: includes.map(({ name, start }) => `${name} at ${start}`),
            prints: prints.map(({ name, start }) => `${name} at ${start}`),
            comments: comments.map(({ start }) => String(start)),
            sections: sections.map(({ name, start, until }) => `${name} from ${start} to ${until}`),
          }).toEqual(index);
          expect(problems).toEqual([]);
          // Nothing of a tag is text, and no text is lost.
          expect(texts.map(({ start, end }) => text.slice(start, end)).join('')).toBe(all.map(plain).join(''));
        }),
      );
    });

    it('are told of where a section is not closed', () => {
      fc.assert(
        fc.property(nodes, fc.nat(), (all, which) => {
          const { text, closings } = printed(all, tags);
          const gone = closings[which % Math.max(1, closings.length)];
          fc.pre(gone !== undefined && language.knowsSections);
          expect(language.read(text.slice(0, gone.start) + text.slice(gone.end)).problems).not.toEqual([]);
        }),
      );
    });

    it('are read to their end, however damaged, and nothing stands outside', () => {
      const pieces = [...tags.include, ...tags.print, ...tags.comment, ...tags.section.flat()];
      const broken = pieces.flatMap((piece) => [piece, piece.slice(0, -1), piece.slice(1), piece.slice(0, 3)]);
      fc.assert(
        fc.property(
          fc.array(fc.constantFrom(...broken, '\n', '"', 'x'), { maxLength: 40 }),
          fc.integer({ min: 1, max: 40 }),
          (some, times) => {
            const text = some.join('').repeat(times);
            const read = language.read(text);
            const ranges = [
              ...read.includes,
              ...read.extends,
              ...read.sections,
              ...read.prints,
              ...read.comments,
              ...read.texts,
              ...read.problems,
            ];
            expect(ranges.filter(({ start, end }) => start < 0 || end <= start || end > text.length)).toEqual([]);
          },
        ),
      );
      for (const piece of new Set(broken)) {
        const before = process.cpuUsage();
        language.read(piece.repeat(50_000 / piece.length));
        expect([piece, process.cpuUsage(before).user < 2e6]).toEqual([piece, true]);
      }
    });

    const plain = (node: Node): string => (typeof node === 'string' ? node : node.inside.map(plain).join(''));
  },
);

const opening = ({ print: [print = ''] }: Tags): string => /^[^\w\s]{2,}/.exec(print)?.[0] ?? '';
it.each(LANGUAGES.filter(([name = '', , tags]) => NAMED[name] === undefined && opening(tags) !== ''))(
  'a tag that is not closed is told in %s, whatever follows',
  (_name, language, tags) => {
    const open = opening(tags);
    fc.assert(
      fc.property(nodes, nodes, (before, after) => {
        const [start, rest] = [printed(before, tags).text, printed(after, tags).text];
        const { problems } = language.read(`${start}${open}hut\n${rest}`);
        expect(problems.some(({ code, start: at }) => code === 'unclosedTag' && at === start.length)).toBe(true);
      }),
    );
  },
);
