import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import type { BodyInput, Endpoint, Params, Response } from '@juncta/contract/http';
import { catchError, type Observable, throwError } from 'rxjs';
import { apiTexts } from './api.texts';

interface Sent<E extends Endpoint> {
  readonly params?: Params<E>;
  readonly body?: BodyInput<E>;
}

/** Asks the server, by the contract's endpoints. What fails, fails with an `ErrorBody`, whatever the cause. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  call<E extends Endpoint>(endpoint: E, sent: Sent<E> = {}): Observable<Response<E>> {
    const params = (sent.params ?? {}) as Record<string, unknown>;
    const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) =>
      encodeURIComponent(String(params[name])),
    );
    return this.http
      .request<Response<E>>(endpoint.method, path, endpoint.method === 'GET' ? {} : { body: sent.body ?? {} })
      .pipe(catchError((error: unknown) => throwError(() => errorBodyOf(error))));
  }

  /** Reads a file as it is. */
  download(path: string): Observable<Blob> {
    return this.http
      .get(path, { responseType: 'blob' })
      .pipe(catchError((error: unknown) => throwError(() => errorBodyOf(error))));
  }

  /** Sends a file as it is. */
  upload(path: string, file: Blob): Observable<unknown> {
    return this.http
      .put(path, file, { headers: { 'Content-Type': file.type || 'application/octet-stream' } })
      .pipe(catchError((error: unknown) => throwError(() => errorBodyOf(error))));
  }
}

/** The server's own words where it had any; ours where nothing of the kind came back. */
export function errorBodyOf(error: unknown): ErrorBody {
  if (error instanceof HttpErrorResponse) {
    const body = error.error as Partial<ErrorBody> | null;
    if (body && typeof body === 'object' && body.code && body.sentence) return body as ErrorBody;
    // A proxy before a server that is away answers in its place.
    if ([0, 502, 503, 504].includes(error.status)) return { code: 'closing', sentence: apiTexts.noAnswer };
  }
  return { code: 'internal', sentence: apiTexts.unexpected };
}

/** Nobody was there to do it: it is worth asking again soon. */
export const nobodyThere = ({ code }: ErrorBody): boolean =>
  code === 'closing' || code === 'relay_away' || code === 'database_away';
