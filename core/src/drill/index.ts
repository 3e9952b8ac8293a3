export * from './drilled-place';
export * from './faults';
export * from './timeline';
