export * from './control';
export * from './reports';
export type { InputReport } from '../ingest/input-report';
