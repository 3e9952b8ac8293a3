export * from './ingest';
export * from './input-report';
