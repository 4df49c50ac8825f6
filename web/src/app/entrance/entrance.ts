import { ChangeDetectionStrategy, Component, effect, inject } from '@angular/core';
import { Session } from '../data/session';
import { atEdge } from '../data/state';
import { Dialogs } from '../parts/dialogs';
import { Icon } from '../parts/icon';
import { ThemeChoice } from '../shell/theme';
import { LibraryView } from './library-view';
import { ProjectsView } from './projects-view';

const signIn = () => import('../shell/sign-in').then((file) => file.SignIn);

/** What surrounds the first page: the list of projects, and the library beside it. */
@Component({
  selector: 'pe-root',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Icon, LibraryView, ProjectsView],
  templateUrl: './entrance.html',
  styleUrls: ['../shell/bar.scss', './entrance.scss'],
})
export class Entrance {
  private readonly signing = inject(Session);
  protected readonly session = atEdge(this.signing, 'name', 'asks');
  private readonly dialogs = inject(Dialogs);
  protected readonly theme = inject(ThemeChoice);
  protected readonly isLibrary = location.pathname.startsWith('/library');

  constructor() {
    this.signing.look().subscribe();
    effect(() => {
      if (this.session.asks() && !this.dialogs.isOpen(signIn))
        this.dialogs.open(signIn, { width: '420px', disableClose: true }).subscribe();
    });
  }

  protected signOut(): void {
    this.signing.signOut().subscribe();
  }
}
