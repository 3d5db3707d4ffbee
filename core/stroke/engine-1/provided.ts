import { provideEngine } from '../engines';
import { FirstSpineBuilder } from './spine-builder';

provideEngine(1, (pen) => new FirstSpineBuilder(pen, 1));
