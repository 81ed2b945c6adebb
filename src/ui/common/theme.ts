import { type ThemeConfig, theme } from 'antd';

const font = "'Inter Variable', 'Liberation Sans', sans-serif";

/** Warm paper, dark ink, one verdigris accent; rubric red belongs to findings only. */
export const day: ThemeConfig = {
  algorithm: theme.compactAlgorithm,
  token: {
    colorPrimary: '#1f6f63',
    colorInfo: '#1f6f63',
    colorLink: '#1a6156',
    colorError: '#a5281b',
    colorWarning: '#8a5a00',
    colorWarningBg: '#f7edd6',
    colorErrorBg: '#f9e7e2',
    colorSuccess: '#1f6f63',
    colorBgBase: '#fbf7ee',
    colorBgLayout: '#f2ebdc',
    colorBgContainer: '#fdfaf3',
    colorBgElevated: '#fffdf8',
    colorTextBase: '#241e15',
    colorTextSecondary: '#5a5142',
    colorTextTertiary: '#6d6353',
    colorTextPlaceholder: '#6d6353',
    colorBorder: '#cfc3aa',
    colorBorderSecondary: '#e2d8c3',
    borderRadius: 3,
    fontFamily: font,
    fontSize: 14,
  },
  components: {
    Table: {
      headerBg: '#f2ebdc',
      rowHoverBg: '#f6efdf',
      rowSelectedBg: '#dcebe5',
      rowSelectedHoverBg: '#d0e4dc',
    },
  },
};

export const night: ThemeConfig = {
  algorithm: [theme.darkAlgorithm, theme.compactAlgorithm],
  token: {
    colorPrimary: '#5fb3a3',
    colorInfo: '#5fb3a3',
    colorLink: '#7cc7b8',
    colorError: '#e58a78',
    colorWarning: '#d8ac5c',
    colorSuccess: '#5fb3a3',
    colorBgBase: '#1b1812',
    colorBgLayout: '#14110c',
    colorBgContainer: '#1f1b14',
    colorBgElevated: '#28231a',
    colorTextBase: '#ece3d1',
    colorTextSecondary: '#c3b8a2',
    colorTextTertiary: '#a99e88',
    colorTextPlaceholder: '#a99e88',
    colorTextLightSolid: '#10231f',
    // Tooltips have the same ink: they are light.
    colorBgSpotlight: '#d9cfba',
    colorBorder: '#4d4433',
    colorBorderSecondary: '#373023',
    borderRadius: 3,
    fontFamily: font,
    fontSize: 14,
  },
  components: {
    Table: { rowSelectedBg: '#21423b', rowSelectedHoverBg: '#274c44' },
    Slider: {
      trackBg: '#5fb3a3',
      trackHoverBg: '#7cc7b8',
      railBg: '#4d4433',
      railHoverBg: '#6a5e48',
      handleColor: '#7cc7b8',
      handleActiveColor: '#ece3d1',
    },
  },
};
