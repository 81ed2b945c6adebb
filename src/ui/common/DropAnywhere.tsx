'use client';

import { UploadOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import { createContext, type ReactNode, use } from 'react';
import { useDropzone } from 'react-dropzone';
import styles from './DropAnywhere.module.css';
import { ListeningDialog } from './ListeningDialog';
import { useImport } from './useImport';

const OpenContext = createContext<{ open: () => void; busy: boolean }>({ open: () => {}, busy: false });

/** The button that opens the file dialog; works wherever files can be dropped. */
export function ChooseFile({ primary = false }: { primary?: boolean }) {
  const { open, busy } = use(OpenContext);
  return (
    <Button type={primary ? 'primary' : 'default'} icon={<UploadOutlined />} onClick={open} loading={busy}>
      Open a file…
    </Button>
  );
}

/** Takes files dropped anywhere on the page. */
export function DropAnywhere({
  children,
  onFiles,
}: {
  children: ReactNode;
  /** What to do with files, where they are not simply new jobs. */
  onFiles?: (files: readonly File[]) => void;
}) {
  const { importFiles, busy, listening } = useImport();
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => (onFiles ? onFiles(files) : void importFiles(files)),
    noClick: true,
    noKeyboard: true,
  });
  return (
    <OpenContext value={{ open, busy }}>
      <div {...getRootProps({ className: styles.zone, role: undefined, tabIndex: undefined })}>
        <input
          {...getInputProps({ 'aria-label': 'MIDI file, score or recording' })}
          data-testid="file-input"
        />
        {children}
        {listening && <ListeningDialog {...listening} />}
        {isDragActive && (
          <div className={styles.veil}>{onFiles ? 'Drop to take in' : 'Drop to open as a new job'}</div>
        )}
      </div>
    </OpenContext>
  );
}
