export {
  Identification,
  identificationNames,
  identificationOf,
  isSameProduct,
  noIdentification,
  objectName,
  objectsOf,
} from './identification.js';
