import { Slot, useLocalSearchParams } from 'expo-router';
import { SheetScreen } from '../../../ui/screens/sheet/sheet-screen';

/** The sheet stays open, and shows what the address names, while its stops come and go as routes. */
export default function SheetLayout() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return (
    <>
      <SheetScreen key={id} id={id} />
      <Slot />
    </>
  );
}
