import { Redirect, useLocalSearchParams, usePathname } from 'expo-router';
import { FIRST_STOP, stopAt } from './stops';

/** The route of every stop: what it shows belongs to the sheet's screen. Without a stop it leads to the first. */
export function StopRoute() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return stopAt(usePathname()) ? null : <Redirect href={`/sheet/${id}/${FIRST_STOP.route}`} />;
}
