import type { GestureResponderEvent } from 'react-native';

/**
 * When a press was made, ms. The event's own time: a busy page handles it later, and a tap must not
 * become a hold for that.
 */
export function pressTime(event: GestureResponderEvent): number {
  const { timeStamp, nativeEvent } = event;
  return timeStamp || nativeEvent?.timestamp || performance.now();
}

/** Held longer than this, a press ends with the touch; shorter, what it did stays. */
export const HOLD_MS = 350;
