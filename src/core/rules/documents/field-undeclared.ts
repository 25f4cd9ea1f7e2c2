import { namesDeclared, namesUsed } from '../../templates/names-used.ts';
import { matchesAny } from '../../files/glob.ts';
import { kindOfPath } from '../../text/file-kinds.ts';
import { shapePattern } from '../../names/shape.ts';
import { isSlip, NameGuesser } from '../../text/nearest.ts';
import type { NamesContract, UsedEntriesContract } from '../../platform/schema.ts';
import { templateAt } from '../../contents/templates.ts';
import type { Chain } from '../../theme/chain.ts';
import { usedNames } from '../../theme/used-entries.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const CONF = '[theme]\ninherit = basic\nstylesheet = cierzo.css\n\n[options]\naccent = #1f5f8b\n';

const advise = advices({
  'declare-or-take-out': 'declare it in {document}, or take it out',
});

/** Options that files ask for and no theme of the chain declares. */
export const fieldUndeclared: Rule = {
  meta: {
    id: 'field/undeclared',
    severity: 'warning',
    isSeen: true,
    summary: 'A file asks for an option that the theme does not declare',
    why: 'The host puts nothing in its place: a color, a width or a condition is empty, and nothing says so.',
    messages: { undeclared: '“{name}” is not declared in {document}, nor by a parent' },
    example: {
      platform: 'sphinx',
      wrong: { 'theme.conf': CONF, 'static/cierzo.css_t': 'body { color: {{ theme_acent }} }\n' },
      right: { 'theme.conf': CONF, 'static/cierzo.css_t': 'body { color: {{ theme_accent }} }\n' },
    },
  },
  *check({ theme, chain }) {
    // A parent that is not here may declare anything.
    if (chain.broken !== undefined) return;
    for (const document of theme.documents) {
      for (const used of document.contract['used-as']) {
        const { files, within = [], optional = [] } = used['asked-in'] ?? {};
        if (files === undefined || !used.as.includes('{name}')) continue;
        const kind = kindOf(used, within);
        const prefix = used.as.indexOf('{name}');
        let own: ReadonlySet<string> | undefined;
        // Of each name the first place: it is one mistake.
        const seen = new Set<string>();
        for (const { path, kind: entry } of theme.tree.entries) {
          const source = entry === 'file' && matchesAny(path, files) ? theme.source(path) : undefined;
          if (source === undefined) continue;
          for (const { name, start, end } of namesUsed(source.text, templateAt(theme, path)?.template ?? PLAIN, kind)) {
            own ??= declaredIn(chain, kind, files, used.known);
            // A part of a longer word, or of what another name has.
            if (own.has(name) || /[\w.]/.test(source.text.charAt(start - prefix - 1))) continue;
            const near = new NameGuesser([...own]).nearest(name);
            // One that can be absent is a mistake only where it is a slip of the finger.
            const isMeant = near !== undefined && isSlip(name, near);
            if (seen.has(name) || (!isMeant && isOptional(source.text, name, optional))) continue;
            seen.add(name);
            const said = used.as.replace('{name}', () => name);
            yield {
              message: 'undeclared',
              args: { name: said, document: document.title },
              file: path,
              source,
              range: { start: start - prefix, end },
              hint:
                near === undefined
                  ? advise('declare-or-take-out', { document: document.title })
                  : advise('did-you-mean', { near: used.as.replace('{name}', () => near) }),
            };
          }
        }
      }
    }
  },
};

/** Whether a file can do without the option: a theme that builds on this one may declare it. */
function isOptional(text: string, name: string, shapes: readonly string[]): boolean {
  return shapes.some((shape) => [...text.matchAll(shapePattern(shape))].some((match) => match.groups?.['name'] === name));
}

/** A text without comments or code of a template language. */
const PLAIN = { comments: [], code: undefined };

/** Entries, as names of a template language. */
function kindOf({ as, declared }: UsedEntriesContract, within: readonly string[]): NamesContract {
  return { called: 'option', shape: as, within: [...within], known: [], declared, 'any-case': false, once: false, inherited: false };
}

/** The names that the documents of a chain declare, that its files make themselves, and that its code can bring. */
function declaredIn({ themes }: Chain, kind: NamesContract, files: readonly string[], known: UsedEntriesContract['known']): Set<string> {
  return new Set(
    themes.flatMap((theme) => [
      ...theme.ancestors.flatMap((id) => known[id] ?? []),
      ...theme.documents.flatMap((document) => usedNames(document).map(([, entry]) => entry)),
      ...theme.tree.entries.flatMap(({ path, kind: entry }) => {
        if (entry !== 'file' || !(matchesAny(path, files) || kindOfPath(path) === 'code')) return [];
        const text = theme.source(path)?.text ?? '';
        return namesDeclared(text, PLAIN, kindOfPath(path) === 'code' ? { ...kind, declared: [kind.shape] } : kind);
      }),
    ]),
  );
}
