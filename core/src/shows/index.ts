export * from './phase';
export * from './three-way';
export * from './limits';
export * from './findings';
export * from './next-show';
export * from './slug';
export * from './evergreen';
