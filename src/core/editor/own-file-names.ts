/** How Pionero's own files are called: apart from what is known of them, which takes longer to load than a keystroke may take. */
export const OWN_FILE_NAMES = {
  configuration: /(?:^|\/)pionero\.yaml$/,
  platform: /\.platform\.yaml$/,
  kit: /(?:^|\/)(?:kit|[^/]*\.kit)\.yaml$/,
  overrides: /(?:^|\/)pionero\.overrides\.yaml$/,
} as const;

/** Whether a file is one of Pionero's own, and no part of what a theme is to its host. */
export function isOwnFile(file: string): boolean {
  return Object.values(OWN_FILE_NAMES).some((pattern) => pattern.test(file));
}
