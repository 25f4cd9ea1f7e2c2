import { isNeeded } from '../../platform/platform.ts';
import { isSound, keyPath } from '../../theme/documents.ts';
import { renameField } from '../../facts/write-field.ts';
import { advices } from '../advice.ts';
import { type Rule, fixOf } from '../rule.ts';
import { unknownKeys } from './misspelt-keys.ts';

const advise = advices({
  'known-fields': 'known fields: {known}',
  'known-in': 'known in {section}: {known}',
});

/** Fields that the platform does not know. */
export const fieldUnknown: Rule = {
  meta: {
    id: 'field/unknown',
    severity: 'warning',
    isOfOneFile: true,
    summary: 'A field that the host does not know',
    why: 'Hosts ignore fields that they do not know: a misspelled one has no effect, and nothing says so.',
    messages: { near: '“{key}” is not a field of {title}; “{near}” is', unknown: '“{key}” is not a field of {title}' },
    example: {
      platform: 'vereda',
      wrong: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nlicence: MIT\n---*/\n' },
      right: { 'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\nlicense: MIT\n---*/\n' },
    },
  },
  *check({ theme }) {
    for (const document of theme.documents) {
      if (!isSound(document)) continue;
      const { fields } = document.contract;
      for (const { entry, path, known, near, isNearThere } of unknownKeys(document)) {
        const canRename = near !== undefined && !isNearThere;
        const meant = near?.at(-1) ?? '';
        const isRequired = fields.some(
          (field) => isNeeded(field.required, theme.isChild) && near?.every((key, i) => keyPath(field)[i] === key),
        );
        yield {
          message: near === undefined ? 'unknown' : 'near',
          args: { key: path.join('.'), near: near?.join('.') ?? '', title: document.title },
          file: document.path,
          source: document.source,
          isRefusal: canRename && isRequired,
          range: { start: entry.keyStart, end: entry.keyEnd },
          hint:
            near === undefined
              ? path.length > 1
                ? advise('known-in', { section: path.slice(0, -1).join('.'), known: known.join(', ') })
                : advise('known-fields', { known: known.join(', ') })
              : canRename
                ? advise('rename-it', { to: meant })
                : advise('there-already', { name: meant }),
          fix: canRename
            ? fixOf(advise('rename-key', { from: entry.key, to: meant }), true, document.path, renameField(document, path, meant))
            : undefined,
        };
      }
    }
  },
};
