/** A way in which languages of templates write their tags; the words in it are learned. */
export interface Family {
  /** Whether a text has such tags. */
  readonly seen: RegExp;
  /** A tag that opens or goes on, with its word. */
  readonly opens: RegExp;
  /** A tag that closes, with the word of the one that it closes. */
  readonly closes: RegExp;
  readonly open: (word: string) => string;
  readonly close: (word: string) => string;
  /** A tag with a word and a name between quotes: what follows the name is left open. */
  readonly named: RegExp;
  /** The shape of such a tag. @param before the tag up to the quote @param after what follows the name */
  readonly take: (before: string, after: string) => string;
  /** How a value is printed, where the family has a tag for it. */
  readonly print?: string;
  readonly comment: string;
}

/** The sign behind a name: the end of the tag, a comma, or a word that goes on. Text that is put together is not a name. */
function ending(after: string, end: string): string {
  return /^[a-z]/.test(after) ? ` ${after}` : after === ',' ? ',' : end;
}

export const FAMILIES: readonly Family[] = [
  {
    seen: /\{%-?\s*\w+/,
    opens: /\{%-?\s*(?!end)([A-Za-z_]\w*)[^]{0,2000}?%\}/g,
    closes: /\{%-?\s*end_?([A-Za-z_]\w*)[^]{0,2000}?%\}/g,
    open: (word) => `{%{?-} ${word} {text} %}`,
    close: (word) => `{%{?-} end${word} {text} %}`,
    named: /\{%-?\s*([A-Za-z_]\w*\s+)(["'])([^"'{}<>\n]+)\2\s*(-?%\}|[a-z]+\b|,)/g,
    take: (before, after) => `{%{?-} ${before.trim()} "{path}"${ending(after, ' {?-}%}')}`,
    print: '{{ {text} }}',
    comment: '{# {text} #}',
  },
  {
    seen: /\{\{[#/][A-Za-z_]\w*/,
    opens: /\{\{#\s*([A-Za-z_]\w*)[^{}]{0,2000}\}\}/g,
    closes: /\{\{\/\s*([A-Za-z_]\w*)\s*\}\}/g,
    open: (word) => `{{#${word} {text} }}`,
    close: (word) => `{{/${word} }}`,
    named: /\{\{\s*([A-Za-z_]\w*\s+)(["'])([^"'{}<>\n]+)\2\s*(\}\}|[a-z]+\b|,)/g,
    take: (before, after) => `{{ ${before.trim()} "{path}"${ending(after, ' }}')}`,
    print: '{{ {text} }}',
    comment: '{{! {text} }}',
  },
  {
    seen: /\[%-?\s*\w+/,
    opens: /\[%-?\s*(?!END|end)([A-Za-z_]\w*)[^]{0,2000}?%\]/g,
    closes: /\[%-?\s*end_?([A-Za-z_]\w*)[^]{0,2000}?%\]/g,
    open: (word) => `[%{?-} ${word} {text} %]`,
    close: (word) => `[%{?-} end${word} {text} %]`,
    named: /\[%-?\s*([A-Za-z_]\w*\s+)(["'])([^"'{}<>\n]+)\2\s*(-?%\]|[a-z]+\b|,)/g,
    take: (before, after) => `[%{?-} ${before.trim()} "{path}"${ending(after, ' {?-}%]')}`,
    print: '[% {text} %]',
    comment: '[%# {text} %]',
  },
  {
    seen: /<\/?[a-z]+:[a-z]\w*/,
    opens: /<([a-z]+:[A-Za-z]\w*)(?:\s[^<>]{0,2000}[^<>/])?>/g,
    closes: /<\/([a-z]+:[A-Za-z]\w*)\s*>/g,
    open: (word) => `<${word}{text}>`,
    close: (word) => `</${word}>`,
    named: /<([a-z]+:[A-Za-z]\w*\s+[a-z]+=)(["'])([^"'{}<>\n]+)\2\s*(\/?>)?/g,
    take: (before) => `<${before.trim()}"{path}"`,
    comment: '<!-- {text} -->',
  },
  {
    seen: /\{\/[a-z]\w*\}/,
    opens: /(?<!\{)\{([a-z]\w*)(?:\s[^{}]{0,2000})?\}(?!\})/g,
    closes: /(?<!\{)\{\/([a-z]\w*)\}/g,
    open: (word) => `{${word} {text}}`,
    close: (word) => `{/${word}}`,
    named: /(?<!\{)\{([a-z]\w*\s+(?:file=)?)(["'])([^"'{}<>\n]+)\2\s*(\})?/g,
    take: (before) => `{${before.trim()}${before.endsWith('=') ? '' : ' '}"{path}"`,
    print: '{$ {text} }',
    comment: '{* {text} *}',
  },
];

/** A function that is called with a name: partial('menu'). */
export const CALL = /(?<![\w.$])([A-Za-z_]\w*)\(\s*(["'])([^"'{}<>\n$+]+)\2\s*([,)])/g;
