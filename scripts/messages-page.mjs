// The page of everything that Pionero can say: the errors, read off the sources, and the messages of the rules.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parse } from 'acorn';
import { transformSync } from 'esbuild';

const KINDS = {
  UsageError: ['Wrong use', 'the command line names something that cannot be used (exit status 2)'],
  ConfigurationError: ['Wrong files', 'a configuration, platform or kit file is wrong (exit status 2)'],
  RefusedError: ['Refusals', 'the request is clear, but would do harm; nothing was changed (exit status 1)'],
  FailedOperationError: ['Failures', 'an operation failed halfway, and was taken back (exit status 3)'],
};

/** All errors that the sources throw with words of their own, by class. */
export function errorsOf(folder) {
  const found = new Map(Object.keys(KINDS).map((kind) => [kind, new Map()]));
  const files = readdirSync(folder, { recursive: true })
    .filter((file) => file.endsWith('.ts'))
    .toSorted((a, b) => (a < b ? -1 : 1));
  for (const file of files) {
    const { code } = transformSync(readFileSync(join(folder, file), 'utf8'), { loader: 'ts', target: 'esnext' });
    walk(parse(code, { ecmaVersion: 'latest', sourceType: 'module' }), (node) => {
      const errors = node.type === 'NewExpression' ? found.get(node.callee.name) : undefined;
      const facts = errors === undefined ? undefined : node.arguments[0];
      if (facts?.type !== 'ObjectExpression') return;
      const said = Object.fromEntries(
        facts.properties.flatMap(({ key, value }) => (key === undefined ? [] : [[key.name, textsOf(value)]])),
      );
      const [what = []] = [said.what];
      for (const text of what) if (/[a-z]/i.test(text)) errors.set(text, { why: said.why ?? [], hint: said.hint ?? [] });
    });
  }
  return found;
}

function walk(node, visit) {
  if (node === null || typeof node !== 'object') return;
  if (typeof node.type === 'string') visit(node);
  for (const value of Object.values(node)) for (const each of Array.isArray(value) ? value : [value]) walk(each, visit);
}

/** The texts that an expression can be; … stands for whatever is put in. */
function textsOf(node) {
  if (node.type === 'Literal') return typeof node.value === 'string' ? [node.value] : [];
  if (node.type === 'TemplateLiteral')
    return node.quasis.reduce(
      (texts, { value }, i) =>
        (i === 0 ? [''] : placed(node.expressions[i - 1])).flatMap((put) => texts.map((text) => `${text}${put}${value.cooked}`)),
      [''],
    );
  if (node.type === 'ConditionalExpression') return [...textsOf(node.consequent), ...textsOf(node.alternate)];
  if (node.type === 'LogicalExpression') return [...textsOf(node.left), ...textsOf(node.right)];
  if (node.type === 'BinaryExpression' && node.operator === '+')
    return (textsOf(node.left).length === 0 ? ['…'] : textsOf(node.left)).flatMap((left) =>
      (textsOf(node.right).length === 0 ? ['…'] : textsOf(node.right)).map((right) => left + right),
    );
  return [];
}

/** The texts for a place of a template: words that a condition chooses from are words of the message. */
function placed(node) {
  const texts = ['ConditionalExpression', 'TemplateLiteral'].includes(node.type) ? textsOf(node) : [];
  return texts.length === 0 ? ['…'] : texts;
}

export function messagesPage(rules, folder) {
  const lines = [
    '# Messages',
    '',
    'This page is for you if you met a message and want to know where it comes from, or want to read all of them in one go. It is made from the sources: `…` stands for a name, a path or a number.',
    'The first line says what is wrong, “why” the reason, and the arrow what you can do.',
    '',
    '## Findings',
    '',
    'A check reports these; each rule has its reason and an example in [the rules](rules.md).',
    '',
    '| rule | messages |',
    '|---|---|',
    ...rules
      .map(({ meta }) => meta)
      .toSorted((a, b) => (a.id < b.id ? -1 : 1))
      .map(
        ({ id, messages }) =>
          `| [${id}](rules.md#${id.replace('/', '')}) | ${Object.values(messages)
            .map((text) => cell(text.replace(/\{\w+\}/g, '…')))
            .join('<br>')} |`,
      ),
    '',
  ];
  for (const [kind, errors] of errorsOf(folder)) {
    const [title, about] = KINDS[kind];
    lines.push(`## ${title}`, '', `${about.charAt(0).toUpperCase()}${about.slice(1)}.`, '');
    for (const [what, { why, hint }] of [...errors].sort(([a], [b]) => (plain(a) < plain(b) ? -1 : 1))) {
      lines.push(`- ${cell(what)}`);
      for (const text of why) lines.push(`  - why: ${cell(text)}`);
      for (const text of hint) lines.push(`  - → ${cell(text)}`);
    }
    lines.push('');
  }
  return `${lines.join('\n').trimEnd()}\n`;
}

const plain = (text) => text.replace(/^[^a-z]+/i, '').toLowerCase();
const cell = (text) => text.replaceAll('|', '\\|').replaceAll('<', '&lt;').replaceAll('*', '\\*').replaceAll('_', '\\_');
