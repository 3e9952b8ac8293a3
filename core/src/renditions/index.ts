export * from './encode-cost';
export * from './planner';
export * from './programme-plan';
export * from './track-merge';
