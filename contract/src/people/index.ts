export * from './guest-links';
export * from './room';
