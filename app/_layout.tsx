import { useFonts } from 'expo-font';
import { Slot } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Provider } from 'react-redux';
import { SafeAreaProvider } from 'react-native-safe-area-context';
import { HankenGrotesk_400Regular } from '@expo-google-fonts/hanken-grotesk/400Regular';
import { HankenGrotesk_600SemiBold } from '@expo-google-fonts/hanken-grotesk/600SemiBold';
import { YoungSerif_400Regular } from '@expo-google-fonts/young-serif/400Regular';
import { Notices } from '../ui/components/notices';
import { keepPreferences, makeStore } from '../ui/store/store';
import { ThemeProvider, useTheme } from '../ui/theme/theme-context';

/** Store, theme and fonts around every screen. */
export default function RootLayout() {
  const [store] = useState(() => {
    const made = makeStore();
    keepPreferences(made);
    return made;
  });
  // The page is shown at once; the fonts arrive with it and take over.
  useFonts({ HankenGrotesk_400Regular, HankenGrotesk_600SemiBold, YoungSerif_400Regular });
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
