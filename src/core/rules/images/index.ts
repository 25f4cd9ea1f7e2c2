export { imageCut } from './image-cut.ts';
export { imageFormat } from './image-format.ts';
export { imageMissing } from './image-missing.ts';
export { imageSizeRule } from './image-size.ts';
