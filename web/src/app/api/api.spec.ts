import { HttpErrorResponse, provideHttpClient, withInterceptors } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { archiveShow, listShows } from '@juncta/contract/shows';
import type { ErrorBody } from '@juncta/contract/errors';
import { Api, errorBodyOf } from './api';
import { retryReads } from './retry-reads';

describe('asking the server', () => {
  let api: Api;
  let http: HttpTestingController;
  beforeEach(() => {
    jasmine.clock().install();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(withInterceptors([retryReads])),
        provideHttpClientTesting(),
      ],
    });
    api = TestBed.inject(Api);
    http = TestBed.inject(HttpTestingController);
  });
  afterEach(() => {
    http.verify();
    jasmine.clock().uninstall();
  });

  const params = { showId: 'a/b' };

  it('puts what stands in the path where it belongs, and nothing can break out of it', () => {
    api.call(archiveShow, { params, body: { archived: true } }).subscribe();
    const request = http.expectOne('/api/shows/a%2Fb/archived');
    expect(request.request.method).toBe('PUT');
    expect(request.request.body).toEqual({ archived: true });
    request.flush({});
  });

  it('reads again while the server is away, and gives what it then gets', () => {
    let shows: unknown;
    api.call(listShows).subscribe((answer) => (shows = answer));
    http.expectOne('/api/shows').flush(null, { status: 503, statusText: 'away' });
    jasmine.clock().tick(400);
    http.expectOne('/api/shows').error(new ProgressEvent('error'));
    jasmine.clock().tick(900);
    http.expectOne('/api/shows').flush({ shows: [] });
    expect(shows).toEqual({ shows: [] });
  });

  it('gives up reading in the end, and says so in words', () => {
    let error: ErrorBody | undefined;
    api.call(listShows).subscribe({ error: (refused: ErrorBody) => (error = refused) });
    for (let tries = 0; tries < 6; tries++) {
      http.expectOne('/api/shows').error(new ProgressEvent('error'));
      jasmine.clock().tick(6000);
    }
    expect(error?.sentence).toContain('does not answer');
  });

  it('never sends a change twice by itself, nor reads again what was refused', () => {
    const errors: ErrorBody[] = [];
    const error = (refused: ErrorBody) => errors.push(refused);
    api.call(archiveShow, { params, body: { archived: true } }).subscribe({ error });
    const away = { code: 'database_away', sentence: 'Away.' };
    http.expectOne('/api/shows/a%2Fb/archived').flush(away, { status: 503, statusText: 'away' });
    api.call(listShows).subscribe({ error });
    const refusal = { code: 'forbidden', sentence: 'No.' };
    http.expectOne('/api/shows').flush(refusal, { status: 403, statusText: 'no' });
    jasmine.clock().tick(20_000);
    expect(errors.map(({ sentence }) => sentence)).toEqual(['Away.', 'No.']);
  });

  it('has words for answers that are not ours', () => {
    const html = (status: number) => errorBodyOf(new HttpErrorResponse({ status, error: '<html>' }));
    expect(html(500).code).toBe('internal');
    // Of a proxy before a server that is away.
    for (const status of [502, 503, 504]) expect(html(status).sentence).toContain('does not answer');
    const ours = { code: 'place_away', sentence: 'The place does not answer.' };
    expect(errorBodyOf(new HttpErrorResponse({ status: 502, error: ours }))).toEqual(ours as ErrorBody);
    expect(errorBodyOf(new TypeError('x')).sentence).toMatch(/^Something went wrong/);
  });
});
