import { mergeContracts } from './merge.ts';

/** A language as a platform file would describe it; of the kinds of `names` those count that a platform file names, too. */
type Description = Readonly<Record<string, unknown>>;

const words = (text: string): string[] => text.split(/\s+/);
/** Sections that begin and end with words: `{% if … %}` to `{% endif %}`. */
const pairs = (kinds: string): { opens: string; closes: string }[] =>
  words(kinds).map((kind) => ({ opens: `{%{?-} ${kind} {text} %}`, closes: `{%{?-} end${kind} {text} %}` }));
const CODE = ['{{ {text} }}', '{%{?-} {text} %}'];

/** Languages that many hosts share, by the names that people know them by; a host's own are described in its platform file. */
export const KNOWN_LANGUAGES: Readonly<Record<string, Description>> = {
  jinja: {
    called: 'Jinja',
    comment: ['{# {text} #}', '{%{?-} raw {?-}%}{text}{%{?-} endraw {?-}%}'],
    include: ['{%{?-} include "{path}" {?-}%}', ...words('with without ignore').map((word) => `{%{?-} include "{path}" ${word}`)],
    extend: ['{%{?-} extends "{path}" {?-}%}'],
    print: ['{{ {text} }}'],
    sections: pairs('if for block macro call filter trans autoescape with'),
    names: [
      {
        called: 'filter',
        shape: '|{name}',
        within: CODE,
        known:
          words(`abs attr batch capitalize center count d default dictsort e escape filesizeformat first float forceescape format groupby
          indent int items join last length list lower map max min pprint random reject rejectattr replace reverse round safe select selectattr
          slice sort string striptags sum title tojson trim truncate unique upper urlencode urlize wordcount wordwrap xmlattr`),
      },
      {
        called: 'function',
        shape: '{name}(',
        within: CODE,
        declared: ['macro {name}(', 'import {name}', 'as {name}', 'set {name}'],
        // Words of the language and tests can stand before a bracket, too.
        known:
          words(`_ and call caller cycler dict divisibleby elif else eq equalto filter ge gettext gt if in is joiner kwargs le lipsum lt
          namespace ne ngettext not or range sameas self super test varargs`),
      },
      {
        called: 'tag',
        shape: '{%{?-} {name}',
        known: words(`autoescape block call elif else endautoescape endblock endcall endfilter endfor endif endmacro endraw endset endtrans
          endwith extends filter for from if import include macro pluralize raw set trans with`),
      },
      { called: 'block', shape: '{%{?-} block {name}', inherited: true, once: true, known: [] },
    ],
  },
  liquid: {
    called: 'Liquid',
    comment: words('comment raw').map((word) => `{%{?-} ${word} {?-}%}{text}{%{?-} end${word} {?-}%}`),
    include: words('include render section').flatMap((word) => [' {?-}%}', ',', ' {name}'].map((end) => `{%{?-} ${word} "{path}"${end}`)),
    print: ['{{ {text} }}'],
    sections: pairs('if unless case for tablerow capture form paginate'),
  },
  ejs: {
    called: 'EJS',
    comment: ['<%# {text} %>'],
    include: ['include("{path}")', 'include("{path}",'],
    print: ['<%= {text} %>'],
    raw: ['<%- {text} %>'],
    code: ['<% {text} %>', '<%_ {text} %>'],
    names: [{ called: 'function', shape: '{name}(', known: ['include'] }],
  },
};

/** A language by its name, or one that is described as `like` another, as the whole description. */
export function withKnownLanguage(given: unknown): unknown {
  if (typeof given === 'string') return Object.hasOwn(KNOWN_LANGUAGES, given) ? { ...KNOWN_LANGUAGES[given], names: [] } : given;
  if (typeof given !== 'object' || given === null || !('like' in given) || typeof given.like !== 'string') return given;
  const { like, ...own } = given as { like: string; names?: unknown };
  const known = Object.hasOwn(KNOWN_LANGUAGES, like) ? KNOWN_LANGUAGES[like] : undefined;
  if (known === undefined) return given;
  const names = Array.isArray(own.names) ? own.names.map((each) => withKind(each, known['names'])) : [];
  return { ...(mergeContracts({ ...known, names: [] }, { ...own, names: [] }) as object), names };
}

/** A kind of names with what the language knows of that kind: the platform's come on top. */
function withKind(given: unknown, all: unknown): unknown {
  const called = (each: unknown): unknown => (typeof each === 'object' && each !== null && 'called' in each ? each.called : undefined);
  const known = Array.isArray(all)
    ? (all.find((each) => called(each) !== undefined && called(each) === called(given)) as unknown)
    : undefined;
  if (known === undefined) return given;
  const both = [known, given].flatMap((each) => (each as { known?: unknown }).known ?? []);
  return { ...(mergeContracts(known, given) as object), known: both };
}
