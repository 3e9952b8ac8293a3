export * from './incident';
export * from './programme';
