export * from './delay-line';
export * from './picture-format';
export * from './picture-shape';
export * from './programme-clock';
export * from './programme-tags';
export * from './silence-detector';
export * from './splicer';
