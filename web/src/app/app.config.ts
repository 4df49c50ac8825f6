import { APP_BASE_HREF } from '@angular/common';
import { provideHttpClient, withFetch } from '@angular/common/http';
import { type ApplicationConfig, provideBrowserGlobalErrorListeners } from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { addressOf, PROJECT_ID } from './data/project-id';

const everywhere = [provideBrowserGlobalErrorListeners(), provideHttpClient(withFetch())];

/** The page of a project: its screens are below its own address. */
export async function projectConfig(projectId: string): Promise<ApplicationConfig> {
  const { routes } = await import('./app.routes');
  return {
    providers: [
      ...everywhere,
      { provide: PROJECT_ID, useValue: projectId },
      { provide: APP_BASE_HREF, useValue: addressOf(projectId) },
      provideRouter(routes, withComponentInputBinding()),
    ],
  };
}

/** The first page. */
export const entranceConfig: ApplicationConfig = { providers: everywhere };
