export { composeGallery, SAMPLE_PICTURE } from './gallery.ts';
export { pageFaults } from './pageFaults.ts';
export { GALLERY_DATES, GALLERY_STATES, type GalleryState, galleryFacts } from './states.ts';
