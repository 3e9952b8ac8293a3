export * from './control';
export * from './feeds';
export * from './pieces';
export * from './desk';
export * from './incident';
