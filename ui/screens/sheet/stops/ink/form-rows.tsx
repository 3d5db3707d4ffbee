import type { NodeKind } from '../../../../../core/stroke/path';
import { FORMS, type Form } from '../../../../../core/stroke/form';
import type { Fill } from '../../../../../core/stroke/pen';
import { Choice } from '../../../../components/choice';
import { Words } from '../../../../components/text';
import { penSlice } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';

const FORM_NAMES: Record<Form, string> = {
  freehand: 'Freehand',
  bend: 'Bend',
  points: 'Points',
  box: 'Box',
  oval: 'Oval',
};
/** What becomes of what a line encloses, to choose. */
export const FILL_OPTIONS: { value: Fill | 'none'; label: string }[] = [
  { value: 'none', label: 'Line' },
  { value: 'with', label: 'Filled' },
  { value: 'alone', label: 'Fill alone' },
];

/** What the hand makes with the pen: a form, and whether it is filled. */
export function FormRows() {
  const dispatch = useAppDispatch();
  const { form, fill, pointKind } = useAppSelector((s) => s.pen);
  return (
    <>
      <Words size={14}>What the hand makes</Words>
      <Choice
        label="What the hand makes"
        options={FORMS.map((value) => ({ value, label: FORM_NAMES[value] }))}
        value={form}
        onChange={(chosen) => dispatch(penSlice.actions.setForm({ form: chosen, fill }))}
      />
      {form === 'points' && (
        <Choice<NodeKind>
          label="New points are"
          options={[
            { value: 'auto', label: 'Curves' },
            { value: 'corner', label: 'Corners' },
          ]}
          value={pointKind}
          onChange={(kind) => dispatch(penSlice.actions.setPointKind(kind))}
        />
      )}
      <Choice
        label="Line or fill"
        options={FILL_OPTIONS}
        value={fill}
        onChange={(chosen) => dispatch(penSlice.actions.setForm({ form, fill: chosen }))}
      />
    </>
  );
}
