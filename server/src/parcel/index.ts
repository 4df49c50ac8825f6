export { archiveOf, parcelArchive, type ParcelFile, parcelOf, SUMS } from './parcel.js';
