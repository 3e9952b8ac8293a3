export * from './capabilities';
export * from './destinations';
