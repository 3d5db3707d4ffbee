import { StyleSheet, View } from 'react-native';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { Button, IconButton } from '../../../../components/button';
import { Words } from '../../../../components/text';
import type { Finder } from '../../../../session/checking';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useLayoutKind } from '../../frame/layout-kind';
import { DraftRow } from '../../frame/setting-row';
import { useChecking } from './use-checking';
import { WidthsChart } from './widths-chart';

const DIALS = {
  leaks: { dial: 'gapPx', label: 'Gaps up to', name: 'Gaps up to this width are leaks, px', min: 1, most: 40, step: 1 },
  thin: { dial: 'thinPx', label: 'Thinner than', name: 'Lines thinner than this are found, px', min: 0.25, most: 6, step: 0.05 },
} as const; // prettier-ignore

const NONE: Record<Finder, string> = {
  leaks: 'No leaks: every shape is closed.',
  thin: 'No line is too thin.',
};

/** One finding after the other, with what can be done about it, and the finder's dial. */
export function FindingRows({ finder }: { finder: Finder }) {
  const { session } = useOpenSheet();
  const checking = useChecking();
  const kind = useLayoutKind();
  const found = useWatched(checking.found);
  const dials = useWatched(checking.dials);
  const at = useWatched(checking.at);
  const findings = checking.findings();
  const now = findings[at];
  const { dial, label, name, min, most, step } = DIALS[finder];
  const several = findings.length > 1;
  const mend = (all: boolean) => {
    if (!found) return;
    if (finder === 'leaks') void checking.bridge(all ? found.leaks : [found.leaks[at]]);
    else void checking.bolder((all ? found.thin : [found.thin[at]]).map(({ id }) => id));
  };
  const words = (
    <Words role="status" size={15} style={styles.words}>
      {!found
        ? 'Looking through the ink.'
        : now
          ? `${at + 1} of ${findings.length} · ${now.words}`
          : found.lines
            ? NONE[finder]
            : 'There is no ink to look through. What is hidden is passed over.'}
    </Words>
  );
  const verb = finder === 'leaks' ? 'Bridge' : 'Bolder';
  return (
    <>
      {kind !== 'phone' && words}
      <View style={styles.line}>
        <IconButton
          label="The finding before"
          icon={ChevronLeft}
          disabled={!several}
          onPress={() => checking.goTo(at - 1)}
        />
        {kind === 'phone' ? words : <View style={styles.words} />}
        <IconButton
          label="The finding after"
          icon={ChevronRight}
          disabled={!several}
          onPress={() => checking.goTo(at + 1)}
        />
      </View>
      {now && (
        <View style={[styles.line, styles.wraps]}>
          <Button tone="main" label={verb} style={styles.grow} onPress={() => mend(false)} />
          {several && (
            <Button label={`${verb} all ${findings.length}`} style={styles.grow} onPress={() => mend(true)} />
          )}
        </View>
      )}
      <DraftRow
        label={label}
        name={name}
        words={(v) => checking.size(v)}
        value={dials[dial]}
        min={min}
        max={Math.max(most, Math.ceil((most * session.paper.ppi) / 300))}
        step={step}
        onShow={(v) => checking.turn({ [dial]: v })}
        onKeep={(v) => checking.turn({ [dial]: v })}
      />
      {finder === 'thin' && found && (
        <WidthsChart widths={found.widths} ppi={session.paper.ppi} thinPx={dials.thinPx} />
      )}
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  wraps: { flexWrap: 'wrap' },
  words: { flex: 1, minWidth: 0 },
  grow: { flexGrow: 1 },
});
