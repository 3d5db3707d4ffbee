import { Slot } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Provider } from 'react-redux';
import { SafeAreaProvider } from 'react-native-safe-area-context';
import { Notices } from '../ui/components/notices';
import { listenToBack } from '../ui/platform/back';
import { keepPreferences, makeStore } from '../ui/store/store';
import { ThemeProvider, useTheme } from '../ui/theme/theme-context';

// Before the router listens.
listenToBack();

/** Store and theme around every screen. The fonts come with the page (scripts/fonts.mjs). */
export default function RootLayout() {
  const [store] = useState(() => {
    const made = makeStore();
    keepPreferences(made);
    return made;
  });
  return (
    <Provider store={store}>
      <ThemeProvider>
        <SafeAreaProvider>
          <Page />
        </SafeAreaProvider>
      </ThemeProvider>
    </Provider>
  );
}

function Page() {
  const theme = useTheme();
  return (
    <View style={[styles.page, { backgroundColor: theme.page }]}>
      <Slot />
      <Notices />
    </View>
  );
}

const styles = StyleSheet.create({ page: { flex: 1 } });
