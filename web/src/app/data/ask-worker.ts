import { Observable } from 'rxjs';

/** Asks a worker that is made for one question; it is ended when it has answered, or when nobody listens any more. */
export function askWorker<Told>(
  make: () => Worker,
  asked: unknown,
  moved: Transferable[],
  failed: (message: string) => Told,
): Observable<Told> {
  return new Observable<Told>((listener) => {
    const worker = make();
    const tell = (told: Told) => {
      listener.next(told);
      listener.complete();
    };
    worker.onmessage = ({ data }: MessageEvent<Told>) => tell(data);
    worker.onerror = ({ message }) => tell(failed(message));
    worker.postMessage(asked, moved);
    return () => worker.terminate();
  });
}
