import { StyleSheet } from 'react-native';
import Camera from 'lucide-react-native/icons/camera';
import ClipboardPaste from 'lucide-react-native/icons/clipboard-paste';
import ImagePlus from 'lucide-react-native/icons/image-plus';
import { Button, IconButton } from '../../../../components/button';
import { canPastePictures, pastedPictures } from '../../../../session/paste-pictures';
import { pickPictures, takePhoto } from '../../../../session/pick-file';
import { useOpenSheet } from '../../../../session/session-context';
import { noticeSlice } from '../../../../store/notice-slice';
import { useAppDispatch } from '../../../../store/store';

/** Ways to bring pictures in: any number of files, the camera, what was copied elsewhere. */
export function AddButtons({ first }: { first: boolean }) {
  const dispatch = useAppDispatch();
  const { bringing } = useOpenSheet();
  const bring = (files: File[]) => void bringing.bring(files);
  const paste = async () => {
    const files = await pastedPictures();
    if (Array.isArray(files)) bring(files);
    else dispatch(noticeSlice.actions.add({ text: files.problem, tone: 'warning' }));
  };
  return (
    <>
      <Button
        tone={first ? 'main' : 'plain'}
        icon={ImagePlus}
        label="Add picture"
        style={styles.grow}
        onPress={() => void pickPictures().then(bring)}
      />
      <IconButton label="Take a photo" icon={Camera} onPress={() => void takePhoto().then(bring)} />
      {canPastePictures() && <IconButton label="Paste a picture" icon={ClipboardPaste} onPress={() => void paste()} />}
    </>
  );
}

/** The shortest of them, where there is no room for all. */
export function AddButton() {
  const { bringing } = useOpenSheet();
  return (
    <IconButton
      label="Add picture"
      icon={ImagePlus}
      onPress={() => void pickPictures().then((files) => void bringing.bring(files))}
    />
  );
}

const styles = StyleSheet.create({ grow: { flexGrow: 1 } });
