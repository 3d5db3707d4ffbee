import { StyleSheet } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronUp from 'lucide-react-native/icons/chevron-up';
import { IconButton } from '../../../../components/button';

/** Opens all that is set of colour. */
export function OpenButton({ expanded, onPress }: { expanded: boolean; onPress(): void }) {
  return (
    <IconButton
      label={expanded ? 'Close the colour and its settings' : 'Open the colour and its settings'}
      aria-expanded={expanded}
      icon={expanded ? ChevronDown : ChevronUp}
      style={styles.button}
      onPress={onPress}
    />
  );
}

const styles = StyleSheet.create({ button: { minHeight: 44 } });
