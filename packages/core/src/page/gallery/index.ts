export { composeGallery } from './gallery.ts';
export { pageFaults } from './pageFaults.ts';
export { GALLERY_STATES, type GalleryState } from './states.ts';
