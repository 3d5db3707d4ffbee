/** Some systems know a kind by its ending only. */
const PICTURE_TYPES = 'image/*,.heic,.heif,.avif,.bmp,.ora,application/pdf';

/** Lets the artist choose a picture; undefined when nothing was chosen. */
export const pickPicture = async (): Promise<File | undefined> => (await pickFiles(PICTURE_TYPES))[0];

/** Lets the artist choose any number of pictures. */
export const pickPictures = (): Promise<File[]> => pickFiles(PICTURE_TYPES, { multiple: true });

/** Lets the artist take a picture. */
export const takePhoto = (): Promise<File[]> => pickFiles('image/*', { fromCamera: true });

/** What is longer is no text of ours, bytes. */
const MOST_TEXT = 4e6;

/** Lets the artist choose a file of text; undefined when nothing was chosen. What is too long for one is empty. */
export async function pickText(types: string): Promise<string | undefined> {
  const [file] = await pickFiles(types);
  return file && (file.size > MOST_TEXT ? '' : file.text());
}

function pickFiles(types: string, { multiple = false, fromCamera = false } = {}): Promise<File[]> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = types;
    input.multiple = multiple;
    // The attribute: browsers without a camera of their own do not know the property.
    if (fromCamera) input.setAttribute('capture', 'environment');
    input.addEventListener('change', () => resolve([...(input.files ?? [])]));
    input.addEventListener('cancel', () => resolve([]));
    input.click();
  });
}

/** Hands a finished file to the browser's downloads. */
export function download(name: string, parts: BlobPart[], type: string): void {
  const url = URL.createObjectURL(new Blob(parts, { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The browser has taken the blob once the click is handled; some take a moment.
  setTimeout(() => URL.revokeObjectURL(url), 30000);
}

const MOST_STEM = 80;

/**
 * A file name from a sheet's name: letters with their marks, digits and emoji of any script, the rest as hyphens; cut
 * between characters as they are read.
 * @param more what tells it from others of the sheet.
 */
export function fileNameFor(name: string, ending: string, more: readonly string[] = []): string {
  const stem = name
    .normalize('NFC')
    .replace(OTHERS, '-')
    // Joiners and marks join nothing where what they belong to is gone.
    .replace(/(^|-)[\p{M}\u200d\ufe0f]+/gu, '$1')
    .replace(/^-+|-+$/g, '');
  const cut = charactersOf(stem).slice(0, MOST_STEM).join('').replace(/-+$/, '');
  return `${[cut || 'sheet', ...more].join('-')}.${ending}`;
}

/** What is no letter, mark, digit or emoji, nor joins them. */
const OTHERS = /[^\p{L}\p{M}\p{N}\p{Extended_Pictographic}\p{Emoji_Modifier}\p{Regional_Indicator}\u200d\ufe0f]+/gu;

/** Characters as they are read; where that cannot be told, code points. */
const charactersOf = (text: string): string[] =>
  typeof Intl.Segmenter === 'undefined'
    ? Array.from(text)
    : Array.from(new Intl.Segmenter().segment(text), ({ segment }) => segment);
