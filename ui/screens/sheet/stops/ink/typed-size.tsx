import { useState } from 'react';
import { LEAST_TYPED_PX, MOST_TYPED_PX } from '../../../../../core/stroke/line-widths';
import { Field, typedNumber } from '../../../../components/field';

/** A size in px that is typed: taken with Enter, or when the field is left. */
export function TypedSize({ label, px, onSet }: { label: string; px: number; onSet(px: number): void }) {
  const [typed, setTyped] = useState<string>();
  const number = typed === undefined ? px : typedNumber(typed);
  const isGood = number >= LEAST_TYPED_PX && number <= MOST_TYPED_PX;
  const take = () => {
    if (typed === undefined || !isGood) return;
    setTyped(undefined);
    const size = Math.round(100 * number) / 100;
    if (size !== px) onSet(size);
  };
  return (
    <Field
      label={label}
      number="decimal"
      value={typed ?? String(Math.round(100 * px) / 100)}
      problem={isGood ? undefined : `A size is ${LEAST_TYPED_PX} to ${MOST_TYPED_PX} px; it stays as it was.`}
      onChangeText={setTyped}
      onSubmitEditing={take}
      onBlur={take}
    />
  );
}
