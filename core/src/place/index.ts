export { atRegister, type FarPlace, isFar, placeKinds, PointPlace, placeWords, telegramOf } from './list.js';
export { telegramStates } from './telegram-state.js';
