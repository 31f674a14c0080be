/** How a screen names the typefaces of a scene. */
export { faceName, fileOfFace, isOwnFace } from '../page/faces.ts';
