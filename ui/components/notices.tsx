import { useEffect } from 'react';
import { StyleSheet, View } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { noticeSlice, type Notice } from '../store/notice-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { takeWay } from '../store/ways-back';
import { RADIUS } from '../theme/theme';
import { useTheme } from '../theme/theme-context';
import { Button, IconButton } from './button';
import { Words } from './text';

const PLAIN_MS = 8000;
/** A way back stays longer. */
const ACTION_MS = 30000;

/** The messages that stand at the top for a while; warnings stay until they are put away. */
export function Notices() {
  const notices = useAppSelector((s) => s.notices);
  return (
    <View style={styles.stack} role="status" aria-live="polite" aria-label="Messages">
      {notices.map((n) => (
        <NoticeCard key={n.id} notice={n} />
      ))}
    </View>
  );
}

function NoticeCard({ notice }: { notice: Notice }) {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const { id, tone, text, action } = notice;
  const dismiss = () => dispatch(noticeSlice.actions.dismiss(id));
  useEffect(() => {
    if (tone === 'warning') return;
    const timer = setTimeout(() => dispatch(noticeSlice.actions.dismiss(id)), action ? ACTION_MS : PLAIN_MS);
    return () => clearTimeout(timer);
  }, [dispatch, id, tone, action]);
  return (
    <View
      style={[
        styles.card,
        { backgroundColor: theme.raised, borderColor: tone === 'warning' ? theme.warning : theme.rule },
      ]}
    >
      <Words style={[styles.text, tone === 'warning' && { color: theme.warning }]}>{text}</Words>
      {action && (
        <Button
          label={action.label}
          onPress={() => {
            takeWay(action.does);
            dismiss();
          }}
        />
      )}
      <IconButton label="Put this message away" icon={X} boxed={false} onPress={dismiss} />
    </View>
  );
}

const styles = StyleSheet.create({
  stack: {
    position: 'absolute',
    top: 64,
    left: 12,
    right: 12,
    gap: 8,
    alignItems: 'center',
    pointerEvents: 'box-none',
    zIndex: 50,
  },
  card: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    maxWidth: 520,
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingLeft: 14,
    paddingVertical: 4,
    pointerEvents: 'auto',
  },
  text: { flexShrink: 1, paddingVertical: 6 },
});
