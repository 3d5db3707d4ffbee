import type { Guides } from '../../../../../core/sheet/entities';
import { firstPoints, LEAST_SQUARES, MOST_SQUARES } from '../../../../../core/sheet/guides';
import { Choice } from '../../../../components/choice';
import { Section } from '../../../../components/section';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { setGuides } from '../../../../session/stack-actions';
import { DraftRow } from '../../frame/setting-row';
import { useAppSelector } from '../../../../store/store';

type Kind = Guides['kind'] | 'none';

const KINDS: { value: Kind; label: string }[] = [
  { value: 'none', label: 'None' },
  { value: 'thirds', label: 'Thirds' },
  { value: 'squares', label: 'Squares' },
  { value: 'perspective', label: 'Perspective' },
];
const COUNTS = ['1', '2', '3'] as const;
const FIRST_SQUARES = 6;

/** Lines over the picture that help to place and to draw. */
export function GuideRows() {
  const { session, placing } = useOpenSheet();
  const kept = useAppSelector((s) => s.sheet.settings?.guides) ?? undefined;
  const { paper } = session;
  const take = (kind: Kind) => {
    const guides = { squares: kept?.squares ?? FIRST_SQUARES, points: kept?.points ?? firstPoints(2, paper) };
    void setGuides(session, kind === 'none' ? null : { ...guides, kind });
  };
  return (
    <Section title="Guides" note={KINDS.find(({ value }) => value === (kept?.kind ?? 'none'))?.label}>
      <Choice<Kind> label="Guides" options={KINDS} value={kept?.kind ?? 'none'} onChange={take} />
      {kept?.kind === 'squares' && (
        <DraftRow
          label="Count"
          name="Squares along the longer side"
          value={kept.squares}
          min={LEAST_SQUARES}
          max={MOST_SQUARES}
          words={String}
          onShow={(squares) => placing.guides.set({ ...kept, squares })}
          onKeep={(squares) => {
            placing.guides.set(undefined);
            void setGuides(session, { ...kept, squares });
          }}
        />
      )}
      {kept?.kind === 'perspective' && (
        <>
          <Choice
            label="Vanishing points"
            options={COUNTS.map((value) => ({ value, label: value === '1' ? '1 point' : `${value} points` }))}
            value={String(kept.points.length) as (typeof COUNTS)[number]}
            onChange={(value) => void setGuides(session, { ...kept, points: firstPoints(Number(value), paper) })}
          />
          <Words size={14} quiet>
            Drag the points on or beyond the paper; pinch to see those that lie far out.
          </Words>
        </>
      )}
      <Words size={14} quiet>
        They help to place and to draw, and are never sent.
      </Words>
    </Section>
  );
}
