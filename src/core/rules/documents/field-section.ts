import { nearest } from '../../text/nearest.ts';
import { keyPath } from '../../theme/documents.ts';
import { advices } from '../advice.ts';
import type { Rule } from '../rule.ts';

const advise = advices({
  'add-section': 'add the section [{section}], or take it out of the list',
});

/** Lists of a document's own sections that name one which is not there. */
export const fieldSection: Rule = {
  meta: {
    id: 'field/section',
    severity: 'error',
    isOfOneFile: true,
    summary: 'A list names a section that the document does not have',
    why: 'A host skips sections without a description, so it never finds their files.',
    messages: { missing: '“{key}” lists “{found}”, which has no section [{found}]' },
    example: {
      platform: 'icons',
      wrong: {
        'index.theme':
          '[Icon Theme]\nName=Cierzo\nComment=Icons\nDirectories=48x48/apps,48x48/places\n\n[48x48/apps]\nSize=48\nContext=Applications\nType=Fixed\n',
      },
      right: {
        'index.theme':
          '[Icon Theme]\nName=Cierzo\nComment=Icons\nDirectories=48x48/apps\n\n[48x48/apps]\nSize=48\nContext=Applications\nType=Fixed\n',
      },
    },
  },
  *check({ theme }) {
    for (const { document, field, node, value } of theme.facts) {
      if (field.of !== 'section' || !Array.isArray(value)) continue;
      const sections = (document.root?.entries ?? []).filter((entry) => entry.value.kind === 'map').map((entry) => entry.key);
      for (const found of value as readonly string[]) {
        if (sections.includes(found)) continue;
        const near = nearest(found, sections);
        const isDistinct = near !== undefined && !(value as readonly string[]).includes(near);
        yield {
          message: 'missing',
          args: { key: keyPath(field).join('.'), found },
          file: document.path,
          source: document.source,
          range: node,
          hint: isDistinct ? advise('did-you-mean', { near }) : advise('add-section', { section: found }),
        };
      }
    }
  },
};
