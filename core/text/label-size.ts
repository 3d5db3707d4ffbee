/** Labels are laid out at this size, px, and sized by their matrices: fine enough for letters as high as a page. */
export const LABEL_PX = 512;
