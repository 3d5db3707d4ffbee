import { XMLParser } from 'fast-xml-parser';
import { unzipSync } from 'fflate';
import { MAX_PICTURE_BYTES, MAX_PICTURE_PIXELS } from '../../contract/limits';
import { DecodeFailure, type DecodedFile, type DecodedPicture } from './decoded';

const MOST_LAYERS = 60;
const MOST_XML_BYTES = 1e6;
const MOST_UNPACKED_BYTES = 6 * MAX_PICTURE_BYTES;
/** Stacks within stacks. */
const MOST_DEPTH = 20;

interface XmlNode {
  ':@'?: Record<string, string>;
  [tag: string]: unknown;
}

/**
 * The layers of an OpenRaster file, bottom first, each as the picture that the file holds.
 * @see OpenRaster baseline: stack.xml lists the topmost layer first; `x`, `y`, `opacity` and `visibility` of stacks
 *   add to those of their layers.
 * @throws {DecodeFailure}
 */
export function openRasterLayers(bytes: Uint8Array): DecodedFile {
  const xml = filesOf(bytes, (name) => name === 'stack.xml', MOST_XML_BYTES)['stack.xml'];
  if (!xml) throw new DecodeFailure('picture-cut-short', 'there is no stack.xml');
  const image = parse(new TextDecoder().decode(xml));
  const canvas = { width: sizeOf(image, 'w'), height: sizeOf(image, 'h') };
  if (canvas.width * canvas.height > MAX_PICTURE_PIXELS) throw new DecodeFailure('picture-too-many-pixels');
  const entries: LayerEntry[] = [];
  gather(image, { x: 0, y: 0, opacity: 1, visible: true }, entries, 0);
  if (entries.length === 0) throw new DecodeFailure('not-a-picture', 'it has no layers');
  if (entries.length > MOST_LAYERS) throw new DecodeFailure('picture-too-complex', `${entries.length} layers`);
  const wanted = new Set(entries.map(({ source }) => source));
  const files = filesOf(bytes, (name) => wanted.has(name), MOST_UNPACKED_BYTES);
  const pictures = entries.reverse().flatMap(({ source, ...layer }): DecodedPicture[] => {
    const picture = files[source];
    if (!picture) throw new DecodeFailure('picture-cut-short', `the layer ${layer.name} is missing`);
    return [{ bytes: picture, layer }];
  });
  return { pictures, frames: 1, canvas };
}

/** What a zip holds under some names. What it says of their sizes is checked while unpacking: room is made for no more. */
function filesOf(bytes: Uint8Array, wants: (name: string) => boolean, most: number): Record<string, Uint8Array> {
  let sum = 0;
  try {
    return unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (!wants(name)) return false;
        sum += originalSize;
        if (sum > most) throw new DecodeFailure('picture-too-complex', `${sum} bytes unpacked`);
        return true;
      },
    });
  } catch (error) {
    throw error instanceof DecodeFailure ? error : new DecodeFailure('picture-cut-short', String(error));
  }
}

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '',
  preserveOrder: true,
  processEntities: true,
  parseAttributeValue: false,
});

function parse(text: string): XmlNode {
  if (/<!(DOCTYPE|ENTITY)/i.test(text)) throw new DecodeFailure('picture-has-entities');
  try {
    const image = (parser.parse(text) as XmlNode[]).find((node) => node.image);
    if (image) return image;
  } catch (error) {
    throw new DecodeFailure('picture-cut-short', String(error));
  }
  throw new DecodeFailure('picture-cut-short', 'stack.xml holds no image');
}

function sizeOf(image: XmlNode, side: 'w' | 'h'): number {
  const px = Number(image[':@']?.[side]);
  if (!Number.isInteger(px) || px < 1 || px > 1e6) throw new DecodeFailure('picture-cut-short', `its ${side} is ${px}`);
  return px;
}

interface LayerEntry extends Held {
  name: string;
  source: string;
}

/** What stacks say for all that they hold. */
interface Held {
  x: number;
  y: number;
  opacity: number;
  visible: boolean;
}

function gather(node: XmlNode, held: Held, into: LayerEntry[], depth: number): void {
  if (depth > MOST_DEPTH) throw new DecodeFailure('picture-too-complex', 'stacks within stacks');
  for (const child of childrenOf(node)) {
    const own = child[':@'] ?? {};
    const at: Held = {
      x: held.x + numberOf(own.x, 0),
      y: held.y + numberOf(own.y, 0),
      opacity: held.opacity * Math.min(1, Math.max(0, numberOf(own.opacity, 1))),
      visible: held.visible && own.visibility !== 'hidden',
    };
    if (child.stack) gather(child, at, into, depth + 1);
    else if (child.layer && own.src) into.push({ ...at, name: own.name ?? '', source: own.src });
  }
}

const childrenOf = (node: XmlNode): XmlNode[] => ((node.image ?? node.stack) as XmlNode[] | undefined) ?? [];

function numberOf(text: string | undefined, otherwise: number): number {
  const value = Number(text);
  return text === undefined || !Number.isFinite(value) || Math.abs(value) > 1e6 ? otherwise : value;
}
