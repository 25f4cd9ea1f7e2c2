import { keyPath } from '../../theme/documents.ts';
import { setField } from '../../facts/write-field.ts';
import { advices } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';

const advise = advices({
  'add-field-or': 'add “{key}: {value}”, or another of its values ({values})',
});

/** A child whose parent's stylesheet the host does not load. */
export const parentStyles: Rule = {
  meta: {
    id: 'parent/styles',
    severity: 'warning',
    isSeen: true,
    summary: 'A child does not load its parent’s styles',
    why: 'A child inherits the parent’s markup; without the parent’s styles that markup is shown bare.',
    messages: { absent: 'the parent’s stylesheet is not loaded: “{key}” is missing; {effect}' },
    example: {
      platform: 'vereda',
      siblings: { albar: { 'sheet.css': '/*---\ntitle: Albar\nversion: 2.0.0\nhosts: ">=2"\n---*/\n', 'main.html': '' } },
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nparent: albar\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nparent: albar\nparent-sheet: before\n---*/\n' },
    },
  },
  *check({ theme }) {
    const { inheritance } = theme.platform.contract;
    const parent = theme.fact(inheritance.fact);
    // A theme that says “none” has decided so; only one that says nothing has forgotten it.
    if (inheritance.styles === undefined || parent === undefined || !theme.isChild || theme.fact(inheritance.styles.fact) !== undefined)
      return;
    const { document } = parent;
    const field = document.contract.fields.find((each) => each.fact === inheritance.styles?.fact);
    if (field === undefined || document.root === undefined) return;
    const key = keyPath(field);
    const value = field['child-wants'] ?? inheritance.styles.loaded[0] ?? '';
    yield {
      message: 'absent',
      args: { key: key.join('.'), effect: inheritance.styles.without },
      file: document.path,
      source: document.source,
      range: parent.node,
      hint: advise('add-field-or', { key: key.join('.'), value, values: (field.values ?? []).join(', ') }),
      fix: fixOf(advise('add-field', { key: key.join('.'), value }), true, document.path, setField(document, key, value)),
    };
  },
};
