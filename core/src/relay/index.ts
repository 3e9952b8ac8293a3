export * from './feed-machine';
export * from './piece';
export * from './reconnect-policy';
