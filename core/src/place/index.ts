export { blocks } from './cyclic.js';
export { commands, type EventPlace, EventSort, eventSorts, labelOf, LAST_INDEX } from './event.js';
export {
  atRegister,
  directionIn,
  inRenamed,
  type FarPlace,
  isFar,
  isRaw,
  isTold,
  placeKinds,
  PointPlace,
  placeWords,
  tellsValid,
  messageOf,
  partOf,
} from './list.js';
export { telegramStates } from './telegram-state.js';
export { frameStates } from './frame-state.js';
export { MOST_RECORDS, recordParts } from './record.js';
export { stationTold } from './station-state.js';
