/** Where what comes of a source goes in a test: gathered as ever, and what is fetched of its past beside it. */
import { Gathering, type Gathered, type Outlet } from '../src/index.ts';

export class TestOutlet implements Outlet {
  readonly gathering = new Gathering();
  readonly lease = { gathering: this.gathering, isMine: true };
  readonly fetched: Gathered[] = [];

  keepFetched(fetched: Gathered, commit: () => () => void): Promise<void> {
    commit();
    this.fetched.push(fetched);
    return Promise.resolve();
  }
}
