export * from './frame-pace';
export * from './layout';
export * from './silence';
export * from './jitter-buffer';
export * from './step-down';
export * from './test-pattern';
export * from './wrap';
