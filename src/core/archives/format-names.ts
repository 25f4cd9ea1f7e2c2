/** The formats of archives. By themselves, as the command line names them before it reads or writes one. */
export const ARCHIVE_FORMAT_NAMES = ['zip', 'tar.gz', 'whl'] as const;
export type ArchiveFormatName = (typeof ARCHIVE_FORMAT_NAMES)[number];
