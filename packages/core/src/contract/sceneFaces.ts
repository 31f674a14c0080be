/** How a screen names the typefaces of a scene. */
export { FACE_NAMES } from '../page/faces.ts';
