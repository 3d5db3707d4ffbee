import { StyleSheet, View } from 'react-native';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import SlidersHorizontal from 'lucide-react-native/icons/sliders-horizontal';
import Lasso from 'lucide-react-native/icons/lasso';
import Paintbrush from 'lucide-react-native/icons/paintbrush';
import { Button, IconButton } from '../../../../components/button';
import { Words } from '../../../../components/text';
import { MOST_GAP_PX, type CheckDials, type Finder } from '../../../../session/checking';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useLayoutKind } from '../../frame/layout-kind';
import { DraftRow } from '../../frame/setting-row';
import { FindingList } from './finding-list';
import { noLeaks } from './no-leaks';
import { useChecking } from './use-checking';
import type { Checked } from '../../../../../workers/checking';
import { WidthsChart } from './widths-chart';

interface Dial {
  dial: keyof CheckDials;
  label: string;
  name: string;
  min: number;
  most: number;
  step: number;
}

const NEAR: Dial = { dial: 'nearPx', label: 'Near', name: 'Ink so near to an edge is that edge’s, px', min: 1, most: 60, step: 1 }; // prettier-ignore
const EDGES: Dial = { dial: 'sensitivity', label: 'Faint edges', name: 'Faint edges: how faint an edge may be', min: 0, most: 1, step: 0.05 }; // prettier-ignore
const GAPS: Dial = {
  dial: 'gapPx',
  label: 'Gaps up to',
  name: 'Gaps up to this width are leaks, px',
  min: 1,
  most: MOST_GAP_PX,
  step: 1,
};
const THIN: Dial = { dial: 'thinPx', label: 'Thinner than', name: 'Lines thinner than this are found, px', min: 0.25, most: 6, step: 0.05 }; // prettier-ignore
const DIALS: Record<Finder, readonly Dial[]> = { missed: [EDGES, NEAR], off: [NEAR, EDGES], leaks: [GAPS], thin: [THIN] }; // prettier-ignore

const NONE: Record<Exclude<Finder, 'leaks'>, string> = {
  missed: 'Every edge has ink.',
  off: 'Every line that follows an edge lies near it.',
  thin: 'No line is too thin.',
};

/** One finding after the other, with what can be done about it, and the finder's dial. */
export function FindingRows({
  finder,
  isOpen,
  onOpen,
}: {
  finder: Finder;
  /** The dials are shown; a phone has no room for them all the time. */
  isOpen: boolean;
  onOpen(isOpen: boolean): void;
}) {
  const { session } = useOpenSheet();
  const checking = useChecking();
  const kind = useLayoutKind();
  const found = useWatched(checking.found);
  const dials = useWatched(checking.dials);
  const at = useWatched(checking.at);
  const findings = checking.findings();
  const now = findings[at];
  const againstPicture = finder === 'missed' || finder === 'off';
  const several = findings.length > 1;
  const mend = (all: boolean) => {
    if (!found) return;
    if (finder === 'leaks') void checking.bridge(all ? found.leaks : [found.leaks[at]]);
    else if (finder === 'thin') void checking.bolder((all ? found.thin : [found.thin[at]]).map(({ id }) => id));
  };
  const emptyWords = () => {
    if (!found) return 'Looking through the ink.';
    if (againstPicture && !checking.picture())
      return 'There is no picture under the ink that is shown. On Place one is brought in.';
    if (againstPicture && !found.compared) return 'Looking for the picture’s edges.';
    if (!found.lines && finder !== 'missed') return 'There is no ink to look through. What is hidden is passed over.';
    if (finder === 'leaks') return noLeaks(dials.gapPx, checking.widePx, session.paper.ppi, found.wider);
    return NONE[finder];
  };
  const words = (
    <Words role="status" size={15} style={styles.words}>
      {now ? `${at + 1} of ${findings.length} · ${now.words}` : emptyWords()}
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
        {kind === 'phone' && (
          <IconButton
            label={isOpen ? 'Put the dials away' : 'Dials of what is found'}
            icon={SlidersHorizontal}
            chosen={isOpen}
            onPress={() => onOpen(!isOpen)}
          />
        )}
      </View>
      {now && !againstPicture && (
        <View style={[styles.line, styles.wraps]}>
          <Button tone="main" label={verb} style={styles.grow} onPress={() => mend(false)} />
          {several && (
            <Button label={`${verb} all ${findings.length}`} style={styles.grow} onPress={() => mend(true)} />
          )}
        </View>
      )}
      {!now && finder === 'leaks' && found?.wider && found.wider.count > 0 && (
        <Button
          label="Look at wider ones"
          onPress={() => checking.turn({ gapPx: Math.min(MOST_GAP_PX, Math.ceil(found.wider!.mostPx)) })}
        />
      )}
      {isOpen && (
        <>
          {againstPicture && found?.compared && <PictureRows compared={found.compared} />}
          {DIALS[finder].map(({ dial, label, name, min, most, step }) => (
            <DraftRow
              key={dial}
              label={label}
              name={name}
              words={(v) => (dial === 'sensitivity' ? `${Math.round(100 * v)} %` : checking.size(v))}
              value={dials[dial]}
              min={min}
              max={dial === 'sensitivity' ? most : Math.max(most, Math.ceil((most * session.paper.ppi) / 300))}
              step={step}
              onShow={(v) => dial !== 'sensitivity' && checking.turn({ [dial]: v })}
              onKeep={(v) => checking.turn({ [dial]: v })}
            />
          ))}
          {finder === 'thin' && found && (
            <WidthsChart widths={found.widths} ppi={session.paper.ppi} thinPx={dials.thinPx} />
          )}
          {several && <FindingList findings={findings} />}
        </>
      )}
    </>
  );
}

/** How the ink lies against the picture as a whole, and what part of it is meant. */
function PictureRows({ compared: { share, meanPx, mostPx } }: { compared: NonNullable<Checked['compared']> }) {
  const checking = useChecking();
  const part = useWatched(checking.part);
  const marking = useWatched(checking.marking);
  const flip = (how: 'loop' | 'paint') => checking.marking.set(marking === how ? undefined : how);
  const progress = useWatched(checking.progress);
  const inked = Number.isNaN(share) ? 'No edges found.' : `${Math.round(100 * share)} % of the edges have ink.`;
  const lies = Number.isNaN(meanPx) ? '' : ` Lines along them lie ${checking.size(meanPx)} off in the mean, ${checking.size(mostPx)} at most.`; // prettier-ignore
  return (
    <>
      <Words size={14} quiet>
        {`${inked}${lies}`}
      </Words>
      {progress !== undefined && (
        <Words size={14} role="status">{`Looking for the picture’s edges, ${Math.round(100 * progress)} %`}</Words>
      )}
      <View style={[styles.line, styles.wraps]}>
        <Button
          icon={Lasso}
          label={marking === 'loop' ? 'Draw around it' : 'Only a part'}
          aria-label={marking === 'loop' ? 'Draw around it now' : 'Only a part: draw around it'}
          chosen={marking === 'loop'}
          style={styles.grow}
          onPress={() => flip('loop')}
        />
        <IconButton
          icon={Paintbrush}
          label={marking === 'paint' ? 'Painted enough' : 'Only a part: paint over it'}
          chosen={marking === 'paint'}
          onPress={() => flip('paint')}
        />
        {part && <Button label="All of it" onPress={() => checking.allOfIt()} />}
      </View>
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  wraps: { flexWrap: 'wrap' },
  words: { flex: 1, minWidth: 0 },
  grow: { flexGrow: 1 },
});
