export { codeSyntax } from './code-syntax.ts';
