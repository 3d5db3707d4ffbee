const PICTURE_TYPES = 'image/png,image/jpeg,image/webp,image/gif';

/** Lets the artist choose a picture, or take one; undefined when nothing was chosen. */
export function pickPicture(fromCamera = false): Promise<File | undefined> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = PICTURE_TYPES;
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
