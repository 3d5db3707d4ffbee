/** What the hand makes with a pen: its own way, or a form between the places where it came down and is. */
export const FORMS = ['freehand', 'bend', 'points', 'box', 'oval'] as const;
export type Form = (typeof FORMS)[number];
