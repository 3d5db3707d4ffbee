import { Loop } from '../core/geometry/loop';
import { copiesOf, gapBeyond, lineAt, linesIn, shapeOf } from '../core/sheet/picking';
import { erasing } from '../core/sheet/erased-strokes';
import { linesNear } from '../core/sheet/lines-near';
import { mendAlong } from '../core/sheet/mending';
import { snipsAlong } from '../core/sheet/snipping';
import type { Answer, ToWorker } from './sheet-protocol';
import type { TileMaker } from './tile-maker';

type Question = Extract<
  ToWorker,
  { type: 'erased' | 'near' | 'line-at' | 'in-loop' | 'shape' | 'copies' | 'gap' | 'snips' | 'mend' }
>;

/** Answers what is asked of lines that are erased, picked and changed. In a file that comes later: no first stroke waits for it. */
export async function answerEditing(maker: TileMaker, question: Question): Promise<Answer> {
  const { ink } = maker;
  switch (question.type) {
    case 'erased': {
      const { layerId, bytes, pen } = question;
      return { kind: 'erased', strokes: (await maker.run(erasing(ink, layerId, bytes, pen))) ?? [] };
    }
    case 'near': {
      const { layerId, x, y, reach } = question;
      return { kind: 'near', lines: (await maker.run(linesNear(ink, layerId, x, y, reach))) ?? [] };
    }
    case 'line-at': {
      const { layerIds, x, y, reach } = question;
      return { kind: 'line-at', id: await maker.run(lineAt(ink, layerIds, x, y, reach)) };
    }
    case 'in-loop': {
      const ids = (await maker.run(linesIn(ink, question.layerIds, new Loop(question.loop)))) ?? [];
      return { kind: 'in-loop', ids };
    }
    case 'shape': {
      const { ids, level, most } = question;
      return { kind: 'shape', shape: (await maker.run(shapeOf(ink, ids, level, most)))! };
    }
    case 'copies':
      return { kind: 'copies', copies: (await maker.run(copiesOf(ink, question.ids))) ?? [] };
    case 'snips': {
      const { layerIds, boundIds, way, reach } = question;
      return { kind: 'snips', snips: (await maker.run(snipsAlong(ink, layerIds, boundIds, way, reach))) ?? [] };
    }
    case 'mend': {
      const { layerIds, way, reach } = question;
      return { kind: 'mend', mended: await maker.run(mendAlong(ink, layerIds, way, reach)) };
    }
    case 'gap':
      return { kind: 'gap', gap: gapBeyond(ink, question.ids, question.side) };
  }
}
