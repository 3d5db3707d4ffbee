import { Redirect, useLocalSearchParams } from 'expo-router';

export default function SheetIndex() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <Redirect href={`/sheet/${id}/ink`} />;
}
