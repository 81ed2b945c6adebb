import { B, C, type Instrument, P, rowsOf, V } from './instrument';

const row = rowsOf('voice');

/** Voices and choirs. */
// biome-ignore format: a table, one instrument a line
export const VOICE: readonly Instrument[] = [
  row('soprano', 'Soprano/Sopranos/S.|Sopran/Soprane/S.|Soprano/Sopranos/S.|Soprano/Soprani/S.|Soprano/Sopranos/S.', 'voice.soprano', 52, [C], [59, 60, 81, 84], { lines: true }, 'sop,soprano voice,s'),
  row('treble', 'Treble/Trebles/Tr.|Knabensopran/Knabensoprane/Ksop.|Soprano garçon|Voce bianca/Voci bianche/V. b.|Tiple/Tiples/Tip.', 'voice.child', 52, [C], [57, 60, 79, 81], { lines: true }, 'boy soprano,trebles,boys voices,knabenstimmen'),
  row('mezzo-soprano', 'Mezzo-soprano/Mezzo-sopranos/Mez.|Mezzosopran/Mezzosoprane/Mez.|Mezzo-soprano/Mezzo-sopranos/Mez.|Mezzosoprano/Mezzosoprani/Mez.|Mezzosoprano/Mezzosopranos/Mez.', 'voice.mezzo-soprano', 52, [C], [55, 57, 77, 81], { lines: true }, 'mezzo,mez,mezzos'),
  row('alto', 'Alto/Altos/A.|Alt/Alte/A.|Alto/Altos/A.|Contralto/Contralti/A.|Contralto/Contraltos/A.', 'voice.alto', 52, [C], [52, 53, 74, 77], { lines: true }, 'alti,alto voice'),
  row('countertenor', 'Countertenor/Countertenors/Ct.|Countertenor/Countertenöre/Ct.|Contre-ténor/Contre-ténors/C.-t.|Controtenore/Controtenori/Ctr.|Contratenor/Contratenores/Ctr.', 'voice.countertenor', 52, [C], [52, 55, 74, 77], { lines: true }, 'haute contre,counter tenor'),
  row('tenor', 'Tenor/Tenors/T.|Tenor/Tenöre/T.|Ténor/Ténors/T.|Tenore/Tenori/T.|Tenor/Tenores/T.', 'voice.tenor', 52, [V], [46, 48, 69, 72], { lines: true }, 'ten,tenor voice,tenore voce'),
  row('baritone', 'Baritone/Baritones/Bar.|Bariton/Baritone/Bar.|Baryton/Barytons/Bar.|Baritono/Baritoni/Bar.|Barítono/Barítonos/Bar.', 'voice.baritone', 52, [B], [41, 43, 65, 67], { lines: true }, 'baritone voice'),
  row('bass-baritone', 'Bass-baritone/Bass-baritones/B.-Bar.|Bassbariton/Bassbaritone/Bbar.|Baryton-basse/Barytons-basses/B.-bar.|Basso-baritono/Bassi-baritoni/B.-bar.|Bajo-barítono/Bajos-barítonos/B.-bar.', 'voice.bass', 52, [B], [38, 41, 62, 66], { lines: true }, ''),
  row('bass-voice', 'Bass/Basses/B.|Bass/Bässe/B.|Basse/Basses/B.|Basso/Bassi/B.|Bajo/Bajos/B.', 'voice.bass', 52, [B], [36, 40, 60, 64], { lines: true }, 'bass voice,bass vox,voice bass,bass singer,basso voce,basses voix,bajo voz'),
  row('voice', 'Voice/Voices/Vo.|Stimme/Stimmen/St.|Voix/Voix/Vx.|Voce/Voci/Vc.|Voz/Voces/Vz.', 'voice.vocals', 53, [[C, B]], [45, 50, 79, 84], { lines: true }, 'vocal,vocals,vox,lead vocal,gesang,canto,chant,singer,melody,vx,lead vox,lead voc'),
  row('backing-vocals', 'Backing Vocals/Backing Vocals/B. Vox|Begleitgesang/Begleitgesang/Bgl.|Choristes/Choristes/Chor.|Coristi/Coristi/Cor.|Segundas voces/Segundas voces/Seg. v.', 'voice.vocals', 53, [[C, B]], [45, 50, 79, 84], {}, 'backing vocal,backing vox,bgv,bvs,bv,background vocals,backing voc,back vox,bgvs'),
  row('narrator', 'Narrator/Narrators/Narr.|Sprecher/Sprecher/Spr.|Récitant/Récitants/Réc.|Recitante/Recitanti/Rec.|Narrador/Narradores/Narr.', 'voice.vocals', 53, [P], [27, 27, 87, 87], { unpitched: true }, 'speaker,sprecherin,recitante,narration'),
  row('womens-choir', 'Women’s Choir/Women’s Choirs/Wom. Ch.|Frauenchor/Frauenchöre/Fch.|Chœur de femmes/Chœurs de femmes/Ch. f.|Coro femminile/Cori femminili/C. f.|Coro femenino/Coros femeninos/C. f.', 'voice.female', 52, [C], [52, 53, 81, 84], {}, 'female choir,women choir,womens voices,ssa,ssaa,frauenstimmen,choir women,ladies choir'),
  row('mens-choir', 'Men’s Choir/Men’s Choirs/Men Ch.|Männerchor/Männerchöre/Mch.|Chœur d’hommes/Chœurs d’hommes/Ch. h.|Coro maschile/Cori maschili/C. m.|Coro masculino/Coros masculinos/C. m.', 'voice.male', 52, [V, B], [38, 40, 69, 72], {}, 'male choir,men choir,mens voices,ttbb,tbb,mannerstimmen,choir men'),
  row('childrens-choir', 'Children’s Choir/Children’s Choirs/Chil. Ch.|Kinderchor/Kinderchöre/Kch.|Chœur d’enfants/Chœurs d’enfants/Ch. e.|Coro di voci bianche/Cori di voci bianche/C. v. b.|Coro infantil/Coros infantiles/C. inf.', 'voice.child', 52, [C], [57, 60, 77, 81], {}, 'boys choir,boy choir,kids choir,maitrise,knabenchor'),
  row('choir', 'Choir/Choirs/Ch.|Chor/Chöre/Ch.|Chœur/Chœurs/Ch.|Coro/Cori/Coro|Coro/Coros/Coro', 'voice.aa', 52, [[C, B]], [40, 40, 81, 84], {}, 'chorus,aahs,oohs,aah,ooh,choir aahs,choir oohs,satb'),
  row('vocal-percussion', 'Vocal Percussion/Vocal Percussion/V. Perc.|Mundschlagzeug|Percussion vocale|Percussione vocale|Percusión vocal', 'voice.percussion', 0, [P], [27, 27, 87, 87], { unpitched: true }, 'beatbox,beat box,human beatbox'),
  row('kazoo', 'Kazoo/Kazoos/Kaz.|Kazoo|Kazoo|Kazoo|Kazoo', 'voice.kazoo', 78, [C], [48, 53, 77, 84], { lines: true }, ''),
];
