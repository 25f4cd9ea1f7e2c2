import { judgeNode, sampleValue } from '../../facts/judge-value.ts';
import { isSound, keyPath } from '../../theme/documents.ts';
import { setField } from '../../facts/write-field.ts';
import { advices } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';

const advise = advices({
  'for-example': 'it could be “{value}”, for example',
});

/** Values that are not of the type that the platform states. */
export const fieldType: Rule = {
  meta: {
    id: 'field/type',
    severity: 'error',
    isOfOneFile: true,
    summary: 'A value is not what its field wants',
    why: 'A host that cannot use a value drops it or refuses the theme.',
    messages: { type: '“{key}” is “{found}”; expected: {wanted}', list: '“{key}” is not {wanted}' },
    example: {
      platform: 'vereda',
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0\nhosts: ">=2"\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\n' },
    },
  },
  *check({ theme }) {
    for (const { document, field, node } of theme.facts) {
      const verdict = judgeNode(node, field, theme.platform);
      if (verdict === undefined || document.source === undefined || !isSound(document)) continue;
      const key = keyPath(field).join('.');
      const found = document.source.text.slice(node.start, node.end).trim();
      const { suggestion } = verdict;
      // An example must not read like the answer.
      const sample = suggestion === undefined ? sampleValue(field, theme.platform, theme.names.id, found) : undefined;
      yield {
        message: node.kind === 'scalar' ? 'type' : 'list',
        args: { key, found: found.replace(/^(["'])(.*)\1$/s, '$2'), wanted: verdict.wanted },
        file: document.path,
        source: document.source,
        range: node,
        hint:
          suggestion !== undefined
            ? advise('write', { value: suggestion })
            : sample === undefined
              ? undefined
              : advise('for-example', { value: sample }),
        fix:
          suggestion === undefined
            ? undefined
            : fixOf(
                advise('write', { value: suggestion }),
                verdict.isCertain === true,
                document.path,
                setField(document, keyPath(field), verdict.whole ?? suggestion),
              ),
        isRefusal: field.required !== 'no',
      };
    }
  },
};
