import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';
import { Button } from '../components/button';
import { Heading, Words } from '../components/text';

/** An address that leads nowhere. */
export function NotFoundScreen() {
  const router = useRouter();
  return (
    <View style={styles.middle} role="main">
      <Heading level={1}>There is nothing here</Heading>
      <Words quiet>Nothing was changed. All sheets are in the drawer.</Words>
      <Button tone="main" label="To the drawer" onPress={() => router.replace('/')} />
    </View>
  );
}

const styles = StyleSheet.create({
  middle: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 14, padding: 24 },
});
