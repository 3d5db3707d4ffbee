const PICTURE_TYPES = 'image/png,image/jpeg,image/webp,image/gif';

/** Lets the artist choose a picture, or take one; undefined when nothing was chosen. */
export const pickPicture = (fromCamera = false): Promise<File | undefined> => pickFile(PICTURE_TYPES, fromCamera);

/** What is longer is no text of ours, bytes. */
const MOST_TEXT = 4e6;

/** Lets the artist choose a file of text; undefined when nothing was chosen. What is too long for one is empty. */
export async function pickText(types: string): Promise<string | undefined> {
  const file = await pickFile(types, false);
  return file && (file.size > MOST_TEXT ? '' : file.text());
}

function pickFile(types: string, fromCamera: boolean): Promise<File | undefined> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = types;
    // The attribute: browsers without a camera of their own do not know the property.
    if (fromCamera) input.setAttribute('capture', 'environment');
    input.addEventListener('change', () => resolve(input.files?.[0]));
    input.addEventListener('cancel', () => resolve(undefined));
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
