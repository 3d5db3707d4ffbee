import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useStore } from 'react-redux';
import Download from 'lucide-react-native/icons/download';
import { sentLayers } from '../../../../../core/sheet/sent-layers';
import { Button } from '../../../../components/button';
import { Choice } from '../../../../components/choice';
import { ProgressCard } from '../../../../components/picture-progress';
import { Words } from '../../../../components/text';
import { download, fileNameFor } from '../../../../session/pick-file';
import { useOpenSheet } from '../../../../session/session-context';
import {
  hasBlending,
  hasKeptInside,
  hasFadedInk,
  hasSoftErasures,
  hasSentInk,
} from '../../../../session/stack-actions';
import { noticeSlice } from '../../../../store/notice-slice';
import { useAppDispatch, useAppSelector, type AppStore } from '../../../../store/store';
import { OutOfReach, type FileTask } from '../../../../../workers/sheet-client';
import { describe } from '../../../drawer/new-sheet-dialog';
import { sheetSlice } from '../../../../store/sheet-slice';
import { Tray } from '../../frame/tray';

type Format = 'png' | 'svg';
type Ground = 'clear' | 'paper';
type Size = '1' | '2';

/** The tray of Send: a picture of the ink alone, without the reference and the roughs. */
export function SendTray() {
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const store = useStore() as AppStore;
  const card = useAppSelector((s) => s.sheet.card);
  const stack = useAppSelector((s) => s.sheet.stack);
  const [format, setFormat] = useState<Format>('png');
  const [ground, setGround] = useState<Ground>('paper');
  const [size, setSize] = useState<Size>('1');
  const [progress, setProgress] = useState<number>();
  const task = useRef<FileTask>(undefined);
  // What is transparent is shown as such, as long as this stop is open.
  useEffect(() => {
    dispatch(sheetSlice.actions.sentGround(ground));
    return () => void dispatch(sheetSlice.actions.sentGround(undefined));
  }, [dispatch, ground]);
  // The ink alone is shown, as it is sent; the picture comes back with the next stop, or with a tap on peek.
  useEffect(() => {
    const { peekKept, solo } = store.getState().sheet.looking;
    dispatch(sheetSlice.actions.look({ peekKept: true, solo: undefined }));
    return () => void dispatch(sheetSlice.actions.look({ peekKept, solo }));
  }, [dispatch, store]);
  if (!card) return null;

  const send = async () => {
    const onPaper = ground === 'paper';
    setProgress(0);
    task.current =
      format === 'png'
        ? session.client.png({ level: size === '2' ? 1 : 0, onPaper }, setProgress)
        : session.client.svg({ onPaper, title: card.name }, setProgress);
    try {
      const parts = await task.current.result;
      const more = [...(format === 'png' && size === '2' ? ['2x'] : []), ...(onPaper ? [] : ['clear'])];
      const name = fileNameFor(card.name, format, more);
      if (parts) {
        download(name, parts, format === 'png' ? 'image/png' : 'image/svg+xml');
        dispatch(noticeSlice.actions.add({ text: `${name} is in this device's downloads.` }));
      }
    } catch (error) {
      const text =
        error instanceof OutOfReach
          ? 'The file could not be made: some lines are not on this device, and the server cannot be reached. Try again when it can; the sheet is as it was.'
          : 'The file could not be made; the sheet is as it was. Try again, or at 1x.';
      dispatch(noticeSlice.actions.add({ text, tone: 'warning' }));
    } finally {
      setProgress(undefined);
    }
  };
  const k = size === '2' && format === 'png' ? 2 : 1;
  const about = describe({ widthPx: card.widthPx * k, heightPx: card.heightPx * k, ppi: card.ppi * k });
  const sent = sentLayers(session.model).map((l) => l.name);
  const left = stack.filter(({ kind }) => kind !== 'group').length - sent.length;
  const isEmpty = !hasSentInk(session);
  const layers = isEmpty
    ? 'Nothing is drawn on the layers that are sent, so there is no file to make. Ink something first, or show its layer.'
    : `What goes: ${sent.join(', ')}.${left > 0 ? ' References, roughs and hidden layers stay behind.' : ''}`;
  return (
    <Tray
      open
      bar={
        progress === undefined ? (
          <Button
            tone="main"
            icon={Download}
            label={`Send ${format.toUpperCase()}`}
            disabled={isEmpty}
            onPress={() => void send()}
          />
        ) : (
          <ProgressCard
            text={`Making the ${format.toUpperCase()}, ${Math.round(progress * 100)} %`}
            part={progress}
            onStop={() => task.current?.stop()}
          />
        )
      }
      rest={
        <>
          <Choice<Format>
            label="Format"
            options={[
              { value: 'png', label: 'PNG', note: 'pixels' },
              { value: 'svg', label: 'SVG', note: 'outlines' },
            ]}
            value={format}
            onChange={setFormat}
          />
          <Choice<Ground>
            label="Ground"
            options={[
              { value: 'paper', label: 'On paper' },
              { value: 'clear', label: 'Transparent' },
            ]}
            value={ground}
            onChange={setGround}
          />
          {format === 'png' && (
            <Choice<Size>
              label="Size"
              options={[
                { value: '1', label: '1x' },
                { value: '2', label: '2x' },
              ]}
              value={size}
              onChange={setSize}
            />
          )}
          <View style={styles.words}>
            <Words size={14}>{about}</Words>
            <Words size={14} quiet>
              {layers}
            </Words>
            {format === 'svg' && !isEmpty && hasFadedInk(session) && (
              <Words size={14}>
                Lines with a soft edge or grain, such as wash and pencil, go as pictures of the paper&apos;s own pixels:
                they have no outlines.
              </Words>
            )}
            {format === 'svg' && !isEmpty && hasSoftErasures(session) && (
              <Words size={14}>What was erased softly goes as masks, which some programs leave out.</Words>
            )}
            {format === 'svg' && !isEmpty && hasKeptInside(session) && (
              <Words size={14}>
                What is kept inside the colour below goes with a mask of it; programs that leave masks out show all of
                it.
              </Words>
            )}
            {format === 'svg' && !isEmpty && hasBlending(session) && (
              <Words size={14}>
                Multiply and screen are written as on the web (mix-blend-mode); programs that do not know it lay such
                layers plainly over what is below.
              </Words>
            )}
          </View>
        </>
      }
    />
  );
}

const styles = StyleSheet.create({ words: { gap: 2 } });
