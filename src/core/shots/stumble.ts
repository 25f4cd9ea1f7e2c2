/** Something that a reader of a page would stumble over. */
export interface Stumble {
  readonly kind: 'console' | 'missing' | 'overflow' | 'access';
  readonly message: string;
  /** The engine’s name of an access rule: `color-contrast`. */
  readonly rule?: string | undefined;
  /** A CSS selector of the element, and the beginning of its markup. */
  readonly element?: { readonly selector: string; readonly markup: string } | undefined;
  /** Where the element is on the picture, in pixels. */
  readonly box?: Box | undefined;
}

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}
