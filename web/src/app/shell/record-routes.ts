import { Injectable } from '@angular/core';
import { BaseRouteReuseStrategy, type ActivatedRouteSnapshot } from '@angular/router';

/**
 * A page belongs to the record of its address: another record gets another page, with nothing left over of what stood in
 * the forms of the one before.
 */
@Injectable({ providedIn: 'root' })
export class RecordRoutes extends BaseRouteReuseStrategy {
  override shouldReuseRoute(future: ActivatedRouteSnapshot, now: ActivatedRouteSnapshot): boolean {
    return super.shouldReuseRoute(future, now) && isSame(future.params, now.params);
  }
}

function isSame(a: ActivatedRouteSnapshot['params'], b: ActivatedRouteSnapshot['params']): boolean {
  const names = Object.keys(a);
  return names.length === Object.keys(b).length && names.every((name) => a[name] === b[name]);
}
