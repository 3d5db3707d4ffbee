import { useEffect } from 'react';
import { StyleSheet, View } from 'react-native';
import { useViewOf } from '../../../../canvas/use-view-of';
import { PartingLine } from '../../../../components/parting-line';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { usePicture } from './use-pictures';

const KEY_STEP = 0.02;

/** Parts the picture from how it came: left of the line as it came, right of it as it is made. */
export function DividerOverPaper() {
  const theme = useTheme();
  const { session, toning } = useOpenSheet();
  const at = useWatched(toning.divider);
  const picture = usePicture();
  const { stage } = session;
  useViewOf(stage);
  // A turned phone, a changed recipe: the line stays at its part of the screen.
  const { width = 0, height = 0 } = stage?.size ?? {};
  useEffect(() => {
    if (at !== undefined && picture) toning.part(at, picture);
  }, [toning, picture, at, width]);
  if (at === undefined || !picture || !stage) return null;
  const x = at * width;
  const tag = [styles.tag, { backgroundColor: theme.card, borderColor: theme.rule }];
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} testID="divider">
      <View style={[styles.tags, { left: x - 110, top: height * 0.3 - 46 }]} aria-hidden>
        <View style={tag}>
          <Words size={13}>As it came</Words>
        </View>
        <View style={tag}>
          <Words size={13}>As made</Words>
        </View>
      </View>
      <PartingLine
        x={x}
        y={height * 0.3}
        label={`Drag the divider: left of it the picture as it came, ${Math.round(at * 100)} % of the screen; arrow keys move it`}
        onMove={(to, all) => toning.part(to / all, picture)}
        onStep={(steps) => toning.part(at + steps * KEY_STEP, picture)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none' },
  tags: { position: 'absolute', width: 220, flexDirection: 'row', justifyContent: 'space-evenly' },
  tag: { paddingHorizontal: 8, paddingVertical: 2, borderRadius: RADIUS, borderWidth: 1 },
});
