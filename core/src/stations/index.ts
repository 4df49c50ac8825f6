export { CarriedStation, type Stations, stationsOf, stationsOn } from './stations.js';
