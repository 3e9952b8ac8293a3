export * from './network-address';
export * from './pasted-target';
export * from './rtmp-secret';
export * from './tile';
export * from './correctable';
export * from './line-test';
