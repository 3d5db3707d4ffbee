import { useState } from 'react';
import type { PictureAnswer } from '../../../contract/answers';
import { MAX_NAME, printable } from '../../../core/sheet/words';
import { Button } from '../../components/button';
import { Choice } from '../../components/choice';
import { Dialog } from '../../components/dialog';
import { Field } from '../../components/field';
import { Words } from '../../components/text';
import { papersFor, pictureName, sheetWithPicture, sizeOf } from '../../session/pictures';
import { usePictureTask } from '../../session/use-picture-task';
import { describe } from './new-sheet-dialog';

/** Names that cameras and browsers give say nothing. */
const NAMELESS = /^(image|photo|picture|img|dsc|screenshot|untitled|scan)?[\s_\-().\d]*$/i;
const LABELS: Record<number, string> = { 1: 'As large as the picture', 2: 'Twice as large', 4: 'Four times as large' };
/** Paper with fewer px on its longer side shows its pixels in print (300 ppi on A5; common practice, no source). */
const SMALL_PX = 1748;

export interface PictureSheetProps {
  file: File;
  picture: PictureAnswer;
  onClose(): void;
  onMade(sheetId: string): void;
}

/** A sheet that begins with a picture: what it is called and how large its paper is. */
export function PictureSheetDialog({ file, picture, onClose, onMade }: PictureSheetProps) {
  const size = sizeOf(picture);
  const papers = papersFor(size);
  const own = pictureName(file);
  const [name, setName] = useState(NAMELESS.test(own) ? 'New sheet' : own);
  const isSmall = Math.max(size.width, size.height) < SMALL_PX;
  const [factor, setFactor] = useState(String(isSmall ? (papers[papers.length - 1]?.factor ?? 1) : 1));
  const [busy, setBusy] = useState(false);
  const task = usePictureTask();
  const problem = printable(name).trim() ? undefined : 'A sheet needs a name.';
  const make = async () => {
    const chosen = papers.find((p) => String(p.factor) === factor) ?? papers[0];
    setBusy(true);
    const id = await task.run(() => sheetWithPicture(file, picture, printable(name).trim(), chosen.paper));
    setBusy(false);
    if (id) onMade(id);
  };
  return (
    <Dialog title="New sheet from your picture" onClose={onClose}>
      <Field
        label="Name"
        value={name}
        onChangeText={setName}
        selectTextOnFocus
        maxLength={MAX_NAME}
        problem={problem}
        onSubmitEditing={() => !problem && !busy && void make()}
      />
      <Choice
        label="Paper"
        options={papers.map((p) => ({ value: String(p.factor), label: LABELS[p.factor], note: describe(p.paper) }))}
        value={factor}
        onChange={setFactor}
      />
      <Words quiet>
        {isSmall
          ? 'This picture is small. On larger paper it is scaled, and your lines are finer than its pixels.'
          : 'The picture fills the paper. Its own pixels are kept untouched.'}
      </Words>
      <Button tone="main" label="Make sheet" disabled={problem !== undefined || busy} onPress={() => void make()} />
    </Dialog>
  );
}
