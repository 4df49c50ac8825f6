export { imagePlaceOf, type ImagePlace, MAX_IMAGE, type Named, type SidePlace, sidePlacesOf, Window, WordOrder } from './windows.js';
export { asWindow, Image, orderThrough, SideWindow } from './image.js';
