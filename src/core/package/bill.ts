import { createHash } from 'node:crypto';
import { licenseIds } from '../licenses/license-ids.ts';
import type { ThirdParty } from '../contents/third-party.ts';
import type { PackagePlan } from './pack-theme.ts';

/** The facts of a bill of materials besides those of the theme. */
export interface BillAbout {
  /** SHA-256 of the archive, in hexadecimal. */
  readonly sha256: string;
  /** Pionero’s own version. */
  readonly version: string;
}

/**
 * A list of what a package is made of, as a CycloneDX 1.6 document (ECMA-424): the theme itself, and each part that others have made, with its
 * license and the SHA-256 of its files. The same package has the same list.
 */
export function billOf(plan: PackagePlan, parts: readonly ThirdParty[], { sha256, version }: BillAbout): Record<string, unknown> {
  const { theme, time } = plan;
  const own = `${theme.names.vendor === undefined ? '' : `${theme.names.vendor}/`}${theme.names.id}`;
  const refs = new Map(parts.map((part, i) => [part, `part-${i + 1}`]));
  return {
    $schema: 'http://cyclonedx.org/schema/bom-1.6.schema.json',
    bomFormat: 'CycloneDX',
    specVersion: '1.6',
    serialNumber: `urn:uuid:${uuidOf(sha256)}`,
    version: 1,
    metadata: {
      ...(time === 0 ? {} : { timestamp: new Date(time).toISOString() }),
      tools: { components: [{ type: 'application', name: 'pionero', version }] },
      component: {
        type: 'application',
        'bom-ref': 'theme',
        name: own,
        ...stated('version', theme.text('version')),
        ...stated('description', theme.text('summary')),
        ...licensesOf(theme.text('license')),
        hashes: [{ alg: 'SHA-256', content: sha256 }],
      },
    },
    components: parts.map((part) => componentOf(part, plan, refs.get(part) ?? '')),
    dependencies: [{ ref: 'theme', dependsOn: [...refs.values()] }, ...[...refs.values()].map((ref) => ({ ref }))],
  };
}

function componentOf({ name, version, license, files }: ThirdParty, { theme }: PackagePlan, ref: string): Record<string, unknown> {
  return {
    type: 'library',
    'bom-ref': ref,
    name,
    ...stated('version', version),
    ...licensesOf(license),
    components: files.map((path) => ({
      type: 'file',
      name: path,
      hashes: [{ alg: 'SHA-256', content: sha256Of(theme.tree.parts(path)) }],
    })),
    evidence: { occurrences: files.map((location) => ({ location })) },
  };
}

function stated(key: string, value: string | undefined): Record<string, string> {
  return value === undefined || value === '' ? {} : { [key]: value };
}

function licensesOf(license: string | undefined): Record<string, unknown> {
  const ids = license === undefined ? [] : licenseIds(license);
  if (license === undefined || ids.length === 0) return {};
  return { licenses: ids.length === 1 && ids[0] === license ? [{ license: { id: license } }] : [{ expression: license }] };
}

function sha256Of(parts: Iterable<Buffer>): string {
  const hash = createHash('sha256');
  for (const part of parts) hash.update(part);
  return hash.digest('hex');
}

/** A UUID made of a hash (RFC 9562, 5.8). */
function uuidOf(sha256: string): string {
  const digits = sha256.slice(0, 32).split('');
  digits[12] = '8';
  digits[16] = '89ab'[Number.parseInt(digits[16] ?? '0', 16) % 4] ?? '8';
  const at = [0, 8, 12, 16, 20, 32];
  return at
    .slice(1)
    .map((end, i) => digits.slice(at[i], end).join(''))
    .join('-');
}
