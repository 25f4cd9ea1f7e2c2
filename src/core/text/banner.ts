import { kindOfPath } from './file-kinds.ts';
import type { Zone } from './zone.ts';

/** The comments before the first word of a file; a tag that opens code, and a document type, may stand before them. */
export function leadingComment(text: string, zones: readonly Zone[]): string {
  let comment = '';
  for (const { kind, start, end } of zones) {
    const own = text.slice(start, Math.min(end, start + 4000));
    if (kind === 'comment') comment += own;
    else if (!/^\s*(?:<\?(?:php\b|xml\b[^>]*\?>)?|<!doctype[^>]*>|#!.*|["']use strict["'];?)*\s*(?:\{\{\{?|\{%)?\s*$/i.test(own)) break;
  }
  return comment === '' && zones.length === 1 ? (/^(?:\s*(?:[#;%]|\/\/|--|<!--)[^\n]*\n)+/.exec(text)?.[0] ?? '') : comment;
}

/** A banner with a product and its version; what follows says whose it is. */
const PRODUCT = /^(?<name>[\p{L}\p{N}][\p{L}\p{N}._/@ -]{1,60}?)[\s,:|–—-]*(?:v(?:ersion)?\.?\s*)?(?<version>\d+\.\d+(?:\.\d+)?)/iu;
const WHOSE = /\blicen[cs]e|\bcopyright\b|©|\(c\)\s|\bMIT\b|\bBSD\b|\bApache\b|\bGPL\b|https?:\/\//i;

/** Signs, and tags by which tools know comments that stay. */
const BEFORE_PRODUCT = /^(?:@(?:cc_on|file|license|module|name|overview|package|preserve|project)\b|[^\p{L}\p{N}])*/iu;

/** The product that a banner is about, and its version. */
export function productOf(banner: string): { readonly name: string; readonly version: string | undefined } | undefined {
  const match = PRODUCT.exec(banner.replace(BEFORE_PRODUCT, ''));
  return match === null ? undefined : { name: match.groups?.['name'] ?? '', version: match.groups?.['version'] };
}

/** Whether the head of a file says that it is a product, and whose. */
export function isProductBanner(path: string, banner: string): boolean {
  const isCode = ['script', 'stylesheet', 'code'].includes(kindOfPath(path));
  return isCode && banner !== '' && productOf(banner) !== undefined && WHOSE.test(banner);
}
