import { bootstrapApplication } from '@angular/platform-browser';
import { entranceConfig, projectConfig } from './app/app.config';
import { projectInAddress } from './app/data/project-id';

/** A project has a page of its own; all others are the first page, with the list of projects. */
const projectId = projectInAddress(location.pathname);
const opened = projectId
  ? Promise.all([import('./app/shell/shell'), projectConfig(projectId)]).then(([{ Shell }, config]) => bootstrapApplication(Shell, config))
  : import('./app/entrance/entrance').then(({ Entrance }) => bootstrapApplication(Entrance, entranceConfig));
opened.catch((error: unknown) => console.error(error));
