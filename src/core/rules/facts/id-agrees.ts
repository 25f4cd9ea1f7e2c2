import { keyPath, factValue } from '../../theme/documents.ts';
import { setField } from '../../facts/write-field.ts';
import { ownNameOf } from '../../contents/own-name.ts';
import { fillShape } from '../../names/shape.ts';
import { advices } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';

const advise = advices({
  'write-or-rename-folder': 'write {value}, or rename the folder',
});

/** A document states another id or vendor than the theme's place on the shelf. */
export const idAgrees: Rule = {
  meta: {
    id: 'id/agrees',
    severity: 'error',
    summary: 'A document states another id than the theme’s folder',
    why: 'The host finds a theme under one name and reads another: it never shows up, and nothing says why.',
    messages: { differs: '“{key}” says the {fact} is “{found}”, but the folder says “{wanted}”' },
    example: {
      platform: 'horquilla',
      wrong: {
        'about.php':
          "<?php\n\nreturn [\n    'component' => 'look:lumbre',\n    'title' => 'Cierzo',\n    'serial' => 2026010100,\n    'hosts' => '>=5.0',\n    'layouts' => ['page' => ['main']],\n];\n",
      },
      right: {},
    },
  },
  *check({ theme, shelves, once }) {
    for (const { name, value, document, field, node } of theme.facts) {
      const wanted = name === 'id' ? theme.names.id : name === 'vendor' ? theme.names.vendor : undefined;
      if (wanted === undefined || typeof value !== 'string') continue;
      // A shape may want the name in another spelling: look:{id:snake}.
      const text = field.shape === undefined ? wanted : fillShape(field.shape, theme.names);
      if (value === wanted || factValue(node) === text) continue;
      yield {
        message: 'differs',
        args: { key: keyPath(field).join('.'), fact: name, found: value, wanted },
        file: document.path,
        source: document.source,
        range: node,
        hint: advise('write-or-rename-folder', { value: text }),
        fix: fixOf(advise('write', { value: text }), false, document.path, setField(document, keyPath(field), text)),
        isRefusal: true,
        carries: name === 'id' && (shelves.find(value) !== undefined || once(ownNameOf)?.id === value) ? value : undefined,
      };
    }
  },
};
