import {
  CellApiModule,
  CellStyleModule,
  ClientSideRowModelApiModule,
  ClientSideRowModelModule,
  ColumnApiModule,
  EventApiModule,
  ExternalFilterModule,
  ModuleRegistry,
  RenderApiModule,
  RowApiModule,
  RowSelectionModule,
  ScrollApiModule,
  SelectEditorModule,
  TextEditorModule,
  TextFilterModule,
} from 'ag-grid-community';

/** As much of the grid package as the map uses. */
export function registerGridModules(): void {
  ModuleRegistry.registerModules([
    CellApiModule,
    CellStyleModule,
    ClientSideRowModelApiModule,
    ClientSideRowModelModule,
    ColumnApiModule,
    EventApiModule,
    ExternalFilterModule,
    RenderApiModule,
    RowApiModule,
    RowSelectionModule,
    ScrollApiModule,
    SelectEditorModule,
    TextEditorModule,
    TextFilterModule,
  ]);
}
