export const reachedInto = 1;
