import { Slot, useLocalSearchParams } from 'expo-router';
import { sheetPart } from '../../../ui/screens/parts';

/** The sheet stays open, and shows what the address names, while its stops come and go as routes. */
export default function SheetLayout() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return (
    <>
      <sheetPart.Part key={id} id={id} />
      <Slot />
    </>
  );
}
