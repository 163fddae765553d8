export {
  formatGrid,
  GRID_CHOICES,
  GRID_DENOMINATORS,
  GRID_FAMILIES,
  type Grid,
  gridName,
  gridStepTicks,
  type NearestSlots,
  nearestSlots,
  parseGrid,
  SlotFinder,
  slotStepsAway,
  slotsOfBar,
} from "./grid.ts";
export {
  type Bar,
  type BarBeat,
  barAt,
  barBeatToTick,
  barByIndex,
  buildMeterMap,
  formatBarBeat,
  type Meter,
  type MeterChange,
  type MeterMap,
  nextBarLine,
  tickToBarBeat,
} from "./meter-map.ts";
export {
  bpmAt,
  buildTempoMap,
  DEFAULT_US_PER_QUARTER,
  msToTick,
  type TempoChange,
  type TempoMap,
  tickToMs,
} from "./tempo-map.ts";
export { buildTimeMaps, type TimedPart, type TimeMaps } from "./time-maps.ts";
