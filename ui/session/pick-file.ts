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

/** A file name from a sheet's name: letters and digits of any script, the rest as hyphens. */
export function fileNameFor(name: string, ending: string): string {
  const stem = name
    .normalize('NFC')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80);
  return `${stem || 'sheet'}.${ending}`;
}
