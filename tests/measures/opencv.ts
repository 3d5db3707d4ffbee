import type * as OpenCv from '@techstark/opencv-js';

let ready: Promise<{ cv: typeof OpenCv }> | undefined;

/** OpenCV as a reference, once it has started; in an object, since it has a `then` that never comes to an end. */
export function openCv(): Promise<{ cv: typeof OpenCv }> {
  return (ready ??= new Promise((done) => {
    // eslint-disable-next-line @typescript-eslint/no-require-imports
    const cv = require('@techstark/opencv-js') as typeof OpenCv & { onRuntimeInitialized: () => void };
    if (typeof cv.Mat === 'function') return done({ cv });
    cv.onRuntimeInitialized = () => done({ cv });
  }));
}
