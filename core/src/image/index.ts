export { imagePlaceOf, type ImagePlace, type Named, type SidePlace, sidePlacesOf, Window } from './windows.js';
export { MAX_IMAGE, WordOrder } from './stretch.js';
export { asWindow, Image, orderThrough, SideWindow } from './image.js';
