import { useEffect, useRef } from 'react';
import { StyleSheet, TextInput, View } from 'react-native';
import Check from 'lucide-react-native/icons/check';
import Plus from 'lucide-react-native/icons/plus';
import { MOST_LABEL } from '../../../../../core/sheet/entities';
import { Button, IconButton } from '../../../../components/button';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { FONT, RADIUS, TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { useLayoutKind } from '../../frame/layout-kind';
import { useLabelHand, useLabelling } from './use-labelling';

/** The field grows to so many lines. */
const MOST_ROWS = 3;

/** What the chosen text says; or how one begins. */
export function LabelRow() {
  const { stage } = useOpenSheet().session;
  const labelling = useLabelling();
  const chosen = useWatched(labelling.chosen);
  const place = useWatched(labelling.place);
  if (chosen !== undefined || place) return <LabelField />;
  const begin = () => {
    if (!stage) return;
    const { x0, y0, x1, y1 } = stage.free();
    labelling.beginAt(...stage.toPaper((x0 + x1) / 2, (y0 + y1) / 2));
  };
  return (
    <View style={styles.line}>
      <Words size={14} quiet style={styles.words}>
        Tap where a text begins, or tap one to change it.
      </Words>
      <Button label="New text" icon={Plus} onPress={begin} />
    </View>
  );
}

function LabelField() {
  const theme = useTheme();
  const labelling = useLabelling();
  const text = useWatched(labelling.text);
  const lacking = useWatched(labelling.lacking);
  const asks = useWatched(labelling.asks);
  const hand = useLabelHand();
  const input = useRef<TextInput>(null);
  const answered = useRef(asks - (labelling.place.now() ? 1 : 0));
  useEffect(() => {
    if (asks > answered.current) input.current?.focus();
    answered.current = asks;
  }, [asks]);
  const perLine = useLayoutKind() === 'phone' ? 34 : 15;
  const rows = text.split('\n').reduce((sum, line) => sum + Math.max(1, Math.ceil(line.length / perLine)), 0);
  const lines = Math.min(MOST_ROWS, rows);
  return (
    <>
      <View style={styles.line}>
        <TextInput
          ref={input}
          aria-label="What the text says"
          placeholder="Write here"
          placeholderTextColor={theme.quiet}
          multiline
          numberOfLines={lines}
          maxLength={MOST_LABEL}
          value={text}
          onChangeText={(typed) => labelling.type(typed, hand)}
          onBlur={() => void labelling.keepTyped()}
          onKeyPress={({ nativeEvent }) => nativeEvent.key === 'Escape' && labelling.choose(undefined)}
          style={[
            styles.input,
            { height: 22 + 22 * lines, color: theme.text, backgroundColor: theme.raised, borderColor: theme.edge },
          ]}
        />
        <IconButton label="Done with this text" icon={Check} onPress={() => labelling.choose(undefined)} />
      </View>
      {text.length >= MOST_LABEL && (
        <Words size={13} role="status">
          {`A text has at most ${MOST_LABEL} characters: write on in another one.`}
        </Words>
      )}
      {lacking.length > 0 && (
        <Words size={13} role="status">
          {`This font has no letter for ${lacking.slice(0, 8).join(' ')}${lacking.length > 8 ? ' …' : ''}: a box stands there.`}
        </Words>
      )}
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: TOUCH },
  words: { flex: 1, minWidth: 0 },
  input: {
    flex: 1,
    minWidth: 0,
    minHeight: TOUCH,
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingHorizontal: 12,
    paddingVertical: 10,
    fontFamily: FONT.body,
    fontSize: 16,
    lineHeight: 22,
  },
});
