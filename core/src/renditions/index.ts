export * from './planner';
