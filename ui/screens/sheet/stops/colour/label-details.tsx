import { useEffect, useReducer } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import PenLine from 'lucide-react-native/icons/pen-line';
import Trash from 'lucide-react-native/icons/trash';
import { LABEL_ALIGNS, LABEL_FONTS, type LabelAlign, type LabelFont } from '../../../../../core/sheet/entities';
import { sizeOf, turnOf, type StandingLabel } from '../../../../../core/sheet/labels';
import { lengthInPx, pxToMm } from '../../../../../core/sheet/paper';
import { outlineWidth } from '../../../../../core/text/label-pens';
import { Button } from '../../../../components/button';
import { Choice } from '../../../../components/choice';
import { ColourRow } from '../../../../components/colour-row';
import { Words } from '../../../../components/text';
import { Toggle } from '../../../../components/toggle';
import { pageFont } from '../../../../session/label-fonts';
import { useOpenSheet } from '../../../../session/session-context';
import { useAppSelector } from '../../../../store/store';
import { FONT, RADIUS, TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { DraftRow } from '../../frame/setting-row';
import { useLabel, useLabelHand, useLabelling, useLabels, useTextDials } from './use-labelling';

const FONT_NAMES: Record<LabelFont, string> = {
  serif: 'Serif',
  plain: 'Plain',
  heavy: 'Heavy',
  hand: 'Hand',
  speech: 'Speech',
  shout: 'Shout',
};
const ALIGN_NAMES: Record<LabelAlign, string> = { left: 'Left', middle: 'Middle', right: 'Right' };
const LEAST_MM = 1;
const MOST_MM = 60;
const MOST_OUTLINE = 0.25;

/** How the chosen text is set, or the next one: font, size, turn, lines, outline; and what becomes of it. */
export function LabelDetails() {
  const labelling = useLabelling();
  const label = useLabel();
  const labels = useLabels();
  const [dials, setDials] = useTextDials();
  const words = label?.letters.label ?? dials;
  const change = (part: Partial<Pick<typeof dials, 'font' | 'align' | 'spacing'>>) => {
    setDials(part);
    if (label) void labelling.change(part);
  };
  return (
    <>
      {labels.length > 0 && (
        <Choice
          label="Texts of this sheet"
          options={labels.map(({ layer: { id, name } }) => ({ value: id, label: name }))}
          value={label?.layer.id ?? ''}
          scrolls
          onChange={(id) => labelling.choose(id)}
        />
      )}
      <FontChips chosen={words.font} onTake={(font) => change({ font })} />
      <SizeRow label={label} />
      {label && <TurnRow label={label} />}
      <Choice
        label="Lines begin"
        options={LABEL_ALIGNS.map((value) => ({ value, label: ALIGN_NAMES[value] }))}
        value={words.align}
        onChange={(align) => change({ align })}
      />
      <DraftRow
        label="Lines apart"
        name="From line to line, in sizes of the letters"
        value={words.spacing}
        min={0.7}
        max={2.5}
        step={0.05}
        words={(value) => `${value.toFixed(2)} x`}
        onShow={() => undefined}
        onKeep={(spacing) => change({ spacing })}
      />
      <OutlineRows label={label} />
      {label && <LabelButtons label={label} />}
    </>
  );
}

/** Fonts, each named in its own letters as soon as they are there. */
function FontChips({ chosen, onTake }: { chosen: LabelFont; onTake(font: LabelFont): void }) {
  const theme = useTheme();
  const { fonts } = useLabelling();
  const [, look] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    for (const font of LABEL_FONTS) fonts.lettersOf(font).then(look, () => undefined);
  }, [fonts]);
  return (
    <View role="radiogroup" aria-label="Font" style={styles.fonts}>
      {LABEL_FONTS.map((font) => {
        const isChosen = font === chosen;
        return (
          <Pressable
            key={font}
            role="radio"
            aria-checked={isChosen}
            onPress={() => onTake(font)}
            style={[
              styles.font,
              {
                borderColor: isChosen ? theme.accent : theme.rule,
                backgroundColor: isChosen ? theme.chosen : theme.raised,
              },
            ]}
          >
            <Words
              size={18}
              style={{ fontFamily: `${pageFont(font)}, ${FONT.body}`, color: isChosen ? theme.accent : theme.text }}
            >
              {FONT_NAMES[font]}
            </Words>
          </Pressable>
        );
      })}
    </View>
  );
}

function SizeRow({ label }: { label: StandingLabel | undefined }) {
  const labelling = useLabelling();
  const { ppi } = useOpenSheet().session.paper;
  const hand = useLabelHand();
  const [, setDials] = useTextDials();
  const sizePx = label ? sizeOf(label.letters) : hand.sizePx;
  const mm = Math.round(pxToMm(sizePx, ppi) * 10) / 10;
  return (
    <DraftRow
      label="Size"
      name="Size of the letters, mm"
      value={mm}
      min={LEAST_MM}
      max={Math.max(MOST_MM, mm)}
      step={0.5}
      words={(value) => `${value.toFixed(1)} mm`}
      onShow={(value) => labelling.show({ factor: lengthInPx(value, ppi) / sizePx })}
      onKeep={(value) => {
        setDials({ sizeMm: value });
        void labelling.keepShown('Size text');
      }}
    />
  );
}

function TurnRow({ label }: { label: StandingLabel }) {
  const labelling = useLabelling();
  const turnDeg = turnOf(label.letters);
  return (
    <DraftRow
      label="Turned"
      name="How far the text is turned, degrees"
      value={Math.round(turnDeg * 10) / 10}
      min={-180}
      max={180}
      step={1}
      words={(value) => `${Math.round(value)}°`}
      onShow={(value) => labelling.show({ turnDeg: value - turnDeg })}
      onKeep={() => void labelling.keepShown('Turn text')}
    />
  );
}

function OutlineRows({ label }: { label: StandingLabel | undefined }) {
  const labelling = useLabelling();
  const [dials, setDials] = useTextDials();
  const { recents } = useAppSelector((s) => s.colouring);
  const paperColour = useAppSelector((s) => s.sheet.settings?.paperColour ?? '#ffffff');
  const standing = label?.outline?.deleted === false ? label.outline : undefined;
  const isOn = label ? standing !== undefined : dials.outlined;
  const width = standing ? outlineWidth(standing.pen) : dials.outline;
  const colour = standing?.colour ?? dials.outlineColour;
  const set = (outline: { width: number; colour: string } | undefined) => {
    setDials(outline ? { outlined: true, outline: outline.width, outlineColour: outline.colour } : { outlined: false });
    if (label) void labelling.setOutline(outline);
  };
  return (
    <>
      <Toggle label="Outline around the letters" on={isOn} onChange={(on) => set(on ? { width, colour } : undefined)} />
      {isOn && (
        <>
          <DraftRow
            label="Its width"
            name="Width of the outline, per cent of the letters"
            value={Math.round(width * 100)}
            min={1}
            max={MOST_OUTLINE * 100}
            step={1}
            words={(value) => `${value} %`}
            onShow={() => undefined}
            onKeep={(value) => set({ width: value / 100, colour })}
          />
          <ColourRow
            label="Colour of the outline"
            colours={[...new Set([paperColour, '#ffffff', '#000000', colour, ...recents])]}
            taken={colour}
            wrap
            onTake={(taken) => set({ width, colour: taken })}
          />
        </>
      )}
    </>
  );
}

function LabelButtons({ label: { layer } }: { label: StandingLabel }) {
  const { layerActs } = useOpenSheet();
  const labelling = useLabelling();
  return (
    <>
      <View style={styles.line}>
        <Button label="Make lines" icon={PenLine} style={styles.half} onPress={() => void labelling.toLines()} />
        <Button
          label="Delete text"
          icon={Trash}
          style={styles.half}
          onPress={() => void layerActs.delete([layer.id])}
        />
      </View>
      <Words size={13} quiet>
        Lines are picked and bent on Ink, letter by letter; they say nothing any more that could be changed here.
      </Words>
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  half: { flexGrow: 1 },
  fonts: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  font: {
    minHeight: TOUCH,
    flexGrow: 1,
    flexBasis: '30%',
    paddingHorizontal: 8,
    borderWidth: 1,
    borderRadius: RADIUS,
    alignItems: 'center',
    justifyContent: 'center',
  },
});
