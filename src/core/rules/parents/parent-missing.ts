import { nearest } from '../../text/nearest.ts';
import { keyPath } from '../../theme/documents.ts';
import { setField } from '../../facts/write-field.ts';
import { advices } from '../advice.ts';
import { type Report, type Rule, fixOf } from '../rule.ts';

const advise = advices({
  'did-you-mean-or-shelf': 'did you mean “{near}”? Or name the parent’s shelf with --shelf',
  'install-or-drop': 'install them, or take the name out',
  'take-one-out': 'take one of the parents out',
});

/** The parent cannot be found on any shelf, or a theme is its own ancestor. */
export const parentMissing: Rule = {
  meta: {
    id: 'parent/missing',
    severity: 'error',
    isOfOneFile: true,
    summary: 'The parent is not on the shelf, or the chain of parents is a circle',
    why: 'A host shows a child only while all its parents are installed, under exactly the ids that the themes name.',
    messages: {
      case: 'the parent is called “{near}”, not “{found}”: case counts',
      title: '“{found}” is the parent’s title; its id is “{near}”',
      missing: 'the parent “{found}” is in none of the folders of themes ({shelves})',
      circle: 'the parents form a circle: {circle}',
      commons: 'the commons “{found}” are in none of the hosts around the shelves',
      above: '“{of}”, a parent of this theme, needs “{found}”, which is in none of the folders of themes',
    },
    example: {
      platform: 'vereda',
      siblings: { albar: { 'sheet.css': '/*---\ntitle: Albar Mountain\nversion: 2.0.0\nhosts: ">=2"\n---*/\n', 'main.html': '' } },
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nparent: Albar\nparent-sheet: before\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nparent: albar\nparent-sheet: before\n---*/\n' },
    },
  },
  *check({ theme, chain, shelves }) {
    const { broken } = chain;
    const { inheritance } = theme.platform.contract;
    const fact = theme.fact((broken?.kind === 'commons' ? inheritance.commons?.fact : undefined) ?? inheritance.fact);
    if (broken === undefined || fact === undefined) return;
    const at = { file: fact.document.path, source: fact.document.source, range: fact.node, isRefusal: true };
    if (broken.kind === 'circle') {
      const circle = [...chain.themes.map((each) => each.names.id), broken.id].join(' → ');
      yield { ...at, message: 'circle', args: { circle }, hint: advise('take-one-out') };
      return;
    }
    if (broken.kind === 'commons') {
      yield { ...at, isRefusal: false, message: 'commons', args: { found: broken.id }, hint: advise('install-or-drop') };
      return;
    }
    if (broken.of !== theme) {
      yield {
        ...at,
        message: 'above',
        args: { of: broken.of.names.id, found: broken.id },
        hint: advise('put-on-shelf'),
      };
      return;
    }
    const shelved = shelves.list();
    const sameButCase = shelved.find((each) => each.names.id.toLowerCase() === broken.id.toLowerCase());
    const byTitle = shelved.find((each) => each.names.id !== theme.names.id && shelves.open(each).names.title === broken.id);
    const known = sameButCase ?? byTitle;
    if (known !== undefined) {
      const near = known.names.id;
      const named = Array.isArray(fact.value) ? theme.parents.map((id) => (id === broken.id ? near : id)) : near;
      const report: Report = {
        ...at,
        message: sameButCase === undefined ? 'title' : 'case',
        args: { found: broken.id, near },
        hint: advise('write', { value: near }),
        fix: fixOf(advise('write', { value: near }), true, fact.document.path, setField(fact.document, keyPath(fact.field), named)),
      };
      yield report;
      return;
    }
    const near = nearest(
      broken.id,
      shelved.map((each) => each.names.id).filter((id) => id !== theme.names.id),
    );
    yield {
      ...at,
      message: 'missing',
      args: { found: broken.id, shelves: shelves.shownFolders },
      hint: near === undefined ? advise('put-on-shelf') : advise('did-you-mean-or-shelf', { near }),
    };
  },
};
