export * from './launch-sheet';
export * from './place';
export * from './readiness';
export * from './newly-found';
