import { useState } from 'react';
import { MAX_NAME, printable } from '../../core/sheet/words';
import { Button } from './button';
import { Dialog } from './dialog';
import { Field } from './field';

/** Asks for a name. @param first what it is at first. @param problem what is said where there is none. */
export function NameDialog({
  title,
  first,
  problem,
  onName,
  onClose,
}: {
  title: string;
  first: string;
  problem: string;
  onName(name: string): void;
  onClose(): void;
}) {
  const [name, setName] = useState(first);
  const clean = printable(name).trim();
  const done = () => {
    if (!clean) return;
    onName(clean);
    onClose();
  };
  return (
    <Dialog title={title} onClose={onClose}>
      <Field
        label="Name"
        value={name}
        maxLength={MAX_NAME}
        autoFocus
        selectTextOnFocus
        problem={clean ? undefined : problem}
        onChangeText={setName}
        onSubmitEditing={done}
      />
      <Button tone="main" label="Keep" disabled={!clean} onPress={done} />
    </Dialog>
  );
}
