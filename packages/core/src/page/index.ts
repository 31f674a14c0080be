export * from './compose.ts';
export * from './drawOrder.ts';
export * from './frozen.ts';
export { contrast, luminance, readable, rgbOf, tint } from './palette.ts';
export { grid } from './pen.ts';
export * from './ruler.ts';
export * from './scene.ts';
export * from './sceneDifference.ts';
