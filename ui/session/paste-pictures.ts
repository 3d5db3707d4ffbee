/** Browsers show what was copied only to pages that came over a safe connection. */
export const canPastePictures = (): boolean => typeof navigator.clipboard?.read === 'function';

/** The pictures that were copied elsewhere, or why there are none. */
export async function pastedPictures(): Promise<File[] | { problem: string }> {
  try {
    const items = await navigator.clipboard.read();
    const found = await Promise.all(
      items.map(async (item) => {
        const type = item.types.find((t) => t.startsWith('image/'));
        return type === undefined ? undefined : new File([await item.getType(type)], 'Pasted picture', { type });
      }),
    );
    const files = found.filter((file) => file !== undefined);
    return files.length ? files : { problem: 'What was copied is no picture. Copy one, then paste it here.' };
  } catch {
    return {
      problem: 'This browser does not let the page see what was copied. Paste with the keyboard, or choose a file.',
    };
  }
}
