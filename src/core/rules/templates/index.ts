export { partialCircle } from './partial-circle.ts';
export { partialUnused } from './partial-unused.ts';
export { templateContent } from './template-content.ts';
export { templateFragment } from './template-fragment.ts';
export { templatePartial } from './template-partial.ts';
export { templateRole } from './template-role.ts';
export { templateSyntax } from './template-syntax.ts';
