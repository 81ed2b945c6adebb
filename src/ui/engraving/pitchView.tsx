import { Segmented } from 'antd';
import { create } from 'zustand';

/** Whether staves are looked at in concert pitch; nothing of the score depends on it. */
export const usePitchView = create<{ concert: boolean; show: (concert: boolean) => void }>((set) => ({
  concert: false,
  show: (concert) => set({ concert }),
}));

/** Chooses in which pitch all staves are looked at. */
export function PitchView() {
  const { concert, show } = usePitchView();
  return (
    <Segmented
      size="small"
      aria-label="Pitch of the staves"
      value={concert ? 'concert' : 'written'}
      options={[
        { value: 'written', label: 'As read' },
        { value: 'concert', label: 'Concert' },
      ]}
      onChange={(value) => show(value === 'concert')}
    />
  );
}
