import { ensureBuild } from './setup.mjs';

/** Worker threads and whole processes under test run from the build. */
export default function setup() {
  ensureBuild();
}
