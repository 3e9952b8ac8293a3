export * from './backoff';
export * from './retrying';
