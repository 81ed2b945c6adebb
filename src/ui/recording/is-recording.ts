const SOUND = /\.(?:wav|wave|mp3|ogg|oga|opus|flac|m4a|aac|aif|aiff|weba)$/i;

/** Whether a file says of itself that it is a recording. */
export const isRecording = (file: File): boolean =>
  file.type.startsWith('audio/') ? !/midi/i.test(file.type) : SOUND.test(file.name);

const FILM = /\.(?:mp4|mov|mkv|webm|avi|m4v)$/i;

/** Whether a file says of itself that it is a film: its sound is wanted, not its pictures. */
export const isFilm = (file: File): boolean =>
  file.type.startsWith('video/') || (!file.type.startsWith('audio/') && FILM.test(file.name));
