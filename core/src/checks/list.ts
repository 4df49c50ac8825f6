import { characterLength } from './serial/character-length.js';
import { handshakeDiffers } from './serial/handshake-differs.js';
import { nobodyAsks } from './serial/nobody-asks.js';
import { rs232Parties } from './serial/rs232-parties.js';
import { rtuSevenBits } from './serial/rtu-seven-bits.js';
import { settingsDiffer } from './serial/settings-differ.js';
import { transmitOnTransmit } from './serial/transmit-on-transmit.js';
import { twoMasters } from './serial/two-masters.js';
import { unitLoads } from './serial/unit-loads.js';
import { unitNotForwarded } from './serial/unit-not-forwarded.js';
import { unitRange } from './serial/unit-range.js';
import { unitTwice } from './serial/unit-twice.js';
import { baudLength } from './cable/baud-length.js';
import { biasMany } from './cable/bias-many.js';
import { biasNone } from './cable/bias-none.js';
import { commonMode } from './cable/common-mode.js';
import { groundLoop } from './cable/ground-loop.js';
import { lineLength } from './cable/line-length.js';
import { pastTheEnd } from './cable/past-the-end.js';
import { referenceNone } from './cable/reference-none.js';
import { rs232Length } from './cable/rs232-length.js';
import { shieldMany } from './cable/shield-many.js';
import { shieldNone } from './cable/shield-none.js';
import { stubLength } from './cable/stub-length.js';
import { terminationMany } from './cable/termination-many.js';
import { terminationMiddle } from './cable/termination-middle.js';
import { terminationNone } from './cable/termination-none.js';
import { terminationOne } from './cable/termination-one.js';
import { bitrateDiffers } from './can/bitrate-differs.js';
import { canTermination } from './can/can-termination.js';
import { addressMalformed } from './ethernet/address-malformed.js';
import { addressTwice } from './ethernet/address-twice.js';
import { broadcastAddress } from './ethernet/broadcast-address.js';
import { connections } from './ethernet/connections.js';
import { gatewayMalformed } from './ethernet/gateway-malformed.js';
import { gatewayOutside } from './ethernet/gateway-outside.js';
import { gatewayUnusable } from './ethernet/gateway-unusable.js';
import { addressReserved } from './ethernet/address-reserved.js';
import { leased } from './ethernet/leased.js';
import { masksDiffer } from './ethernet/masks-differ.js';
import { networkAddress } from './ethernet/network-address.js';
import { nobodyAnswers } from './ethernet/nobody-answers.js';
import { portUnusual } from './ethernet/port-unusual.js';
import { outsideNetwork } from './ethernet/outside-network.js';
import { leftOpen } from './map/left-open.js';
import { orderDiffers } from './map/order-differs.js';
import { settingValue } from './map/setting-value.js';
import { noImage } from './converter/no-image.js';
import { byteTwoWriters } from './converter/byte-two-writers.js';
import { outsideWindows } from './converter/outside-windows.js';
import { imageOverlap } from './converter/image-overlap.js';
import { imageOrder } from './converter/image-order.js';
import { readBeforeRefreshed } from './converter/read-before-refreshed.js';
import { validityNotLookedAt } from './converter/validity-not-looked-at.js';
import { fieldGone } from './telegram/field-gone.js';
import { answersNothing } from './telegram/answers-nothing.js';
import { samplesNotRead } from './telegram/samples-not-read.js';
import { sampleLost } from './telegram/sample-lost.js';
import { fieldsOverlap } from './telegram/fields-overlap.js';
import { lostBeforeNext } from './telegram/lost-before-next.js';
import { longerThanPeriod } from './telegram/longer-than-period.js';
import { identifierTwice } from './frames/identifier-twice.js';
import { signalsClash } from './frames/signals-clash.js';
import { signalWider } from './frames/signal-wider.js';
import { frameLostEarly } from './frames/frame-lost-early.js';
import { busFull } from './frames/bus-full.js';
import { frameLate } from './frames/frame-late.js';
import { recordsIncomplete } from './frames/records-incomplete.js';
import { recordSplit } from './frames/record-split.js';
import { recordsOverrun } from './frames/records-overrun.js';
import { madeByController } from './frames/made-by-controller.js';
import { outsideWhole } from './frames/outside-whole.js';
import { linkEnds } from './cyclic/link-ends.js';
import { linkSizesDiffer } from './cyclic/link-sizes-differ.js';
import { validityPastBlock } from './cyclic/validity-past-block.js';
import { blockClash } from './link/block-clash.js';
import { blockOrders } from './link/block-orders.js';
import { blockWider } from './link/block-wider.js';
import { readBeforeUpdated } from './link/read-before-updated.js';
import { validityNeverSet } from './link/validity-never-set.js';
import { stationEnds } from './telecontrol/station-ends.js';
import { stationAddressTwice } from './telecontrol/station-address-twice.js';
import { stationTimes } from './telecontrol/station-times.js';
import { clockNeverSet } from './telecontrol/clock-never-set.js';
import { standardNotRun } from './telecontrol/standard-not-run.js';
import { indexTwice } from './stations/index-twice.js';
import { sortNotThere } from './stations/sort-not-there.js';
import { thresholdWrong } from './stations/threshold-wrong.js';
import { commandUnread } from './stations/command-unread.js';
import { eventWider } from './stations/event-wider.js';
import { staleEarly } from './stations/stale-early.js';
import { toldTooSeldom } from './stations/told-too-seldom.js';
import { errandBesideRoute } from './errand/errand-beside-route.js';
import { errandPointGone } from './errand/errand-point-gone.js';
import { errandValue } from './errand/errand-value.js';
import { bitAndRegister } from './ends/bit-and-register.js';
import { readOnlyPoint } from './ends/read-only-point.js';
import { readOnlyTable } from './ends/read-only-table.js';
import { samePoint } from './ends/same-point.js';
import { step } from './ends/step.js';
import { stepsNeedValue } from './ends/steps-need-value.js';
import { textAndNumber } from './ends/text-and-number.js';
import { width } from './ends/width.js';
import { writeOnlySource } from './ends/write-only-source.js';
import { cannotCarry } from './route/cannot-carry.js';
import { carrierCannotReach } from './route/carrier-cannot-reach.js';
import { carrier } from './route/carrier.js';
import { noBroadcast } from './route/no-broadcast.js';
import { release } from './route/release.js';
import { routeIncomplete } from './route/route-incomplete.js';
import { unreachable } from './route/unreachable.js';
import { bitNamedOtherwise } from './value/bit-named-otherwise.js';
import { noResult } from './value/no-result.js';
import { orderNotSwapped } from './value/order-not-swapped.js';
import { overflow } from './value/overflow.js';
import { precision } from './value/precision.js';
import { scaleDiffers } from './value/scale-differs.js';
import { scaledTwice } from './value/scaled-twice.js';
import { typeDiffers } from './value/type-differs.js';
import { bitsNotReadable } from './plan/bits-not-readable.js';
import { broadcastElsewhere } from './plan/broadcast-elsewhere.js';
import { gatewayOutwaits } from './plan/gateway-outwaits.js';
import { loop } from './plan/loop.js';
import { neverReleased } from './plan/never-released.js';
import { room } from './plan/room.js';
import { stillShort } from './plan/still-short.js';
import { timeoutBelowDelay } from './plan/timeout-below-delay.js';
import { holdsOnLoss } from './plan/holds-on-loss.js';
import { lineFull } from './plan/line-full.js';
import { placeUnlikeOthers } from './plan/place-unlike-others.js';
import { releaseInPapers } from './plan/release-in-papers.js';
import { sameRegister } from './plan/same-register.js';
import { setPointBackwards } from './plan/set-point-backwards.js';
import { settingCarried } from './plan/setting-carried.js';
import { twoWriters } from './plan/two-writers.js';
import { unusedPoints } from './plan/unused-points.js';
import { watchdogLong } from './plan/watchdog-long.js';
import { watchdogShort } from './plan/watchdog-short.js';
import { writtenTooSeldom } from './plan/written-too-seldom.js';

/** Everything that can be found wrong, in the order in which it is told. A new check is a file of its own and its name here. */
export const checks = [
  // serial
  settingsDiffer,
  rtuSevenBits,
  characterLength,
  unitRange,
  unitTwice,
  unitNotForwarded,
  nobodyAsks,
  twoMasters,
  unitLoads,
  rs232Parties,
  transmitOnTransmit,
  handshakeDiffers,
  // cable
  rs232Length,
  lineLength,
  baudLength,
  stubLength,
  pastTheEnd,
  terminationNone,
  terminationOne,
  terminationMany,
  terminationMiddle,
  biasNone,
  biasMany,
  referenceNone,
  shieldNone,
  shieldMany,
  groundLoop,
  commonMode,
  // can
  bitrateDiffers,
  canTermination,
  // ethernet
  addressMalformed,
  addressTwice,
  networkAddress,
  broadcastAddress,
  gatewayMalformed,
  gatewayOutside,
  addressReserved,
  gatewayUnusable,
  masksDiffer,
  outsideNetwork,
  leased,
  connections,
  nobodyAnswers,
  portUnusual,
  // map
  leftOpen,
  orderDiffers,
  settingValue,
  // converter
  noImage,
  byteTwoWriters,
  outsideWindows,
  imageOverlap,
  imageOrder,
  readBeforeRefreshed,
  validityNotLookedAt,
  // telegram
  fieldGone,
  answersNothing,
  samplesNotRead,
  sampleLost,
  fieldsOverlap,
  lostBeforeNext,
  longerThanPeriod,
  identifierTwice,
  signalsClash,
  signalWider,
  frameLostEarly,
  busFull,
  frameLate,
  recordsIncomplete,
  recordSplit,
  recordsOverrun,
  madeByController,
  outsideWhole,
  linkEnds,
  linkSizesDiffer,
  validityPastBlock,
  blockClash,
  blockOrders,
  blockWider,
  readBeforeUpdated,
  validityNeverSet,
  stationEnds,
  stationAddressTwice,
  stationTimes,
  clockNeverSet,
  standardNotRun,
  indexTwice,
  sortNotThere,
  thresholdWrong,
  commandUnread,
  eventWider,
  staleEarly,
  toldTooSeldom,
  // errand
  errandPointGone,
  errandValue,
  errandBesideRoute,
  // ends
  samePoint,
  readOnlyTable,
  readOnlyPoint,
  writeOnlySource,
  stepsNeedValue,
  step,
  bitAndRegister,
  textAndNumber,
  width,
  // route
  routeIncomplete,
  unreachable,
  carrierCannotReach,
  carrier,
  cannotCarry,
  noBroadcast,
  release,
  // value
  noResult,
  bitNamedOtherwise,
  overflow,
  precision,
  typeDiffers,
  orderNotSwapped,
  scaleDiffers,
  scaledTwice,
  // plan
  settingCarried,
  twoWriters,
  sameRegister,
  placeUnlikeOthers,
  setPointBackwards,
  loop,
  bitsNotReadable,
  broadcastElsewhere,
  timeoutBelowDelay,
  gatewayOutwaits,
  neverReleased,
  releaseInPapers,
  holdsOnLoss,
  writtenTooSeldom,
  stillShort,
  watchdogShort,
  watchdogLong,
  room,
  unusedPoints,
  // requests
  lineFull,
] as const;

export type CheckId = (typeof checks)[number]['id'];
