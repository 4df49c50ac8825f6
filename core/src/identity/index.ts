export { Identification, identificationOf, isSameProduct, noIdentification, objectName, objectsOf } from './identification.js';
