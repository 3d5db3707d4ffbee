import { StyleSheet, View } from 'react-native';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import X from 'lucide-react-native/icons/x';
import type { RecipeKind } from '../../../../../core/picture/recipe';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { IconButton } from '../../../../components/button';
import { Section } from '../../../../components/section';
import { Words } from '../../../../components/text';
import { Toggle } from '../../../../components/toggle';
import { useOpenSheet } from '../../../../session/session-context';
import { setRecipe } from '../../../../session/stack-actions';

const NAMES: Record<RecipeKind, string> = {
  crop: 'Cropped',
  grey: 'Grey',
  exposure: 'Exposure',
  curve: 'Curve',
  invert: 'Inverted',
  tint: 'Tinted',
  blur: 'Blurred',
  steps: 'Tone steps',
  edges: 'Edges',
  even: 'Light evened out',
  lift: 'Lifted',
};

/** What was done to a picture, first to last: each can be switched off, moved up and taken away, at any time. */
export function DoneList({ picture }: { picture: PictureLayer }) {
  const { session } = useOpenSheet();
  const recipe = picture.recipe ?? [];
  if (recipe.length === 0) return null;
  return (
    <Section title="What was done" note={recipe.map(({ kind }) => NAMES[kind]).join(', ')}>
      <View role="list" style={styles.list}>
        {recipe.map((step, i) => {
          const name = `${NAMES[step.kind]}${recipe.filter((s) => s.kind === step.kind).length > 1 ? ` ${i + 1}` : ''}`;
          return (
            <View key={step.id} role="listitem" style={styles.line}>
              <View style={styles.grow}>
                <Toggle
                  label={name}
                  on={step.on}
                  onChange={(on) =>
                    void setRecipe(
                      session,
                      picture,
                      recipe.map((s) => (s.id === step.id ? { ...s, on } : s)),
                      `${name} ${on ? 'on' : 'off'}`,
                    )
                  }
                />
              </View>
              {i > 0 && (
                <IconButton
                  label={`Do ${name} earlier`}
                  icon={ArrowUp}
                  boxed={false}
                  onPress={() => {
                    const moved = recipe.filter((s) => s.id !== step.id);
                    moved.splice(i - 1, 0, step);
                    void setRecipe(session, picture, moved, `${name} earlier`);
                  }}
                />
              )}
              <IconButton
                label={`Take away: ${name}`}
                icon={X}
                boxed={false}
                onPress={() =>
                  void setRecipe(
                    session,
                    picture,
                    recipe.filter((s) => s.id !== step.id),
                    `Take away: ${name}`,
                  )
                }
              />
            </View>
          );
        })}
      </View>
      <Words size={14} quiet>
        The original is never changed.
      </Words>
    </Section>
  );
}

const styles = StyleSheet.create({
  list: { gap: 4 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 4 },
  grow: { flex: 1 },
});
