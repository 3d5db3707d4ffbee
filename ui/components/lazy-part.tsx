import { Component, lazy, Suspense, type ComponentType, type ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button } from './button';
import { Heading, Words } from './text';

export interface LazyPart<Props> {
  Part: ComponentType<Props>;
  /** Fetches it before it is needed, without a word if that fails. */
  fetchAhead(): void;
}

/**
 * A part of the app that is a file of its own: fetched when it is first shown, which may fail.
 * @param waiting what is said until it is there; absent: nothing.
 */
export function lazyPart<Props extends object>(
  load: () => Promise<{ default: ComponentType<Props> }>,
  waiting?: string,
): LazyPart<Props> {
  const Loaded = lazy(load);
  return {
    Part: (props) => (
      <Unfetched>
        <Suspense fallback={waiting && <Waiting words={waiting} />}>
          <Loaded {...props} />
        </Suspense>
      </Unfetched>
    ),
    fetchAhead: () => void load().catch(() => undefined),
  };
}

function Waiting({ words }: { words: string }) {
  return (
    <View style={styles.middle} role="main">
      <Words quiet role="status">
        {words}
      </Words>
    </View>
  );
}

/** Stands in for a part that could not be fetched. What failed otherwise goes on to whoever shows such errors. */
class Unfetched extends Component<{ children: ReactNode }, { error?: unknown }> {
  override state: { error?: unknown } = {};

  static getDerivedStateFromError(error: unknown) {
    return { error };
  }

  override render() {
    const { error } = this.state;
    if (error === undefined) return this.props.children;
    if (!isFetchFailure(error)) throw error;
    return (
      <View style={styles.middle} role="main">
        <Heading level={1}>A part of Hush Line is missing</Heading>
        <Words role="alert">It could not be fetched from the server, or the server has a newer one.</Words>
        <Words quiet>Nothing was changed. What waits on this device stays here.</Words>
        <Button tone="main" label="Reload" onPress={() => window.location.reload()} />
      </View>
    );
  }
}

const isFetchFailure = (error: unknown): boolean =>
  error instanceof Error && /load|fetch|import|bundle|chunk/i.test(`${error.name} ${error.message}`);

const styles = StyleSheet.create({
  middle: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 14, padding: 24 },
});
