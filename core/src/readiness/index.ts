export * from './launch-sheet';
export * from './place';
export * from './readiness';
