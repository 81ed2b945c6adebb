import { A, B, C, type Instrument, N, rowsOf } from './instrument';

const row = rowsOf('strings');

/** Bowed strings. */
// biome-ignore format: a table, one instrument a line
export const STRINGS: readonly Instrument[] = [
  row('violin', 'Violin/Violins/Vln.|Violine/Violinen/Vl.|Violon/Violons/Vl.|Violino/Violini/Vl.|Violín/Violines/Vl.', 'strings.violin', 40, [C], [55, 55, 93, 103], { roman: true, players: 14, tuning: [55, 62, 69, 76] }, 'vln,vlns,vl,vn,vni,geige,geigen,fiddle,vls,vns,vno,viol,v'),
  row('violin-piccolo', 'Violino piccolo/Violini piccoli/Vl. picc.|Violino piccolo|Violon piccolo|Violino piccolo|Violín piccolo', 'strings.violono.piccolo', 40, [C], [58, 58, 91, 96], { transposes: [2, 3] }, ''),
  row('viola', 'Viola/Violas/Vla.|Bratsche/Bratschen/Br.|Alto/Altos/Alt.|Viola/Viole/Vla.|Viola/Violas/Vla.', 'strings.viola', 41, [[A, C]], [48, 48, 84, 93], { players: 10, tuning: [48, 55, 62, 69] }, 'vla,vlas,va,altos cordes,vas,vle,vla s,br,alto cordes,alto corde'),
  row('viola-damore', 'Viola d’amore/Viole d’amore/Vla. d’am.|Viola d’amore/Violen d’amore/Vla. d’am.|Viole d’amour/Violes d’amour/Vle. d’am.|Viola d’amore/Viole d’amore/Vla. d’am.|Viola de amor/Violas de amor/Vla. am.', 'strings.viola-damore', 41, [[A, C]], [45, 45, 86, 91], {}, 'viola d amore,viola damore'),
  row('cello', 'Violoncello/Violoncellos/Vc.|Violoncello/Violoncelli/Vc.|Violoncelle/Violoncelles/Vlc.|Violoncello/Violoncelli/Vc.|Violonchelo/Violonchelos/Vc.', 'strings.cello', 42, [[B, N]], [36, 36, 76, 81], { players: 8, tuning: [36, 43, 50, 57] }, 'cello,cellos,celli,vc,vcl,vlc,vcs,celi,vcls,vlcs,chelo,celos'),
  row('double-bass', 'Contrabass/Contrabasses/Cb.|Kontrabass/Kontrabässe/Kb.|Contrebasse/Contrebasses/Cb.|Contrabbasso/Contrabbassi/Cb.|Contrabajo/Contrabajos/Cb.', 'strings.contrabass', 43, [B], [28, 28, 60, 67], { transposes: [-7, -12], players: 6, tuning: [28, 33, 38, 43] }, 'double bass,doublebass,cb,db,contrabassi,string bass,upright bass,basses,acoustic bass,kb,double basses,string basses,ac bass,cbs,dbs,contrabasso,bull fiddle'),
  row('treble-viol', 'Treble Viol/Treble Viols/Tr. Viol|Diskantgambe/Diskantgamben/Disk. G.|Dessus de viole/Dessus de viole/D. v.|Viola da gamba soprano|Viola da gamba tiple', 'strings.viol.treble', 40, [C], [50, 50, 81, 86], { tuning: [50, 55, 60, 64, 69, 74] }, ''),
  row('tenor-viol', 'Tenor Viol/Tenor Viols/T. Viol|Tenorgambe/Tenorgamben/T. G.|Taille de viole/Tailles de viole/T. v.|Viola da gamba tenore|Viola da gamba tenor', 'strings.viol.tenor', 41, [[A, C]], [43, 43, 74, 79], { tuning: [43, 48, 53, 57, 62, 67] }, ''),
  row('bass-viol', 'Bass Viol/Bass Viols/B. Viol|Viola da Gamba/Gamben/Gb.|Basse de viole/Basses de viole/B. v.|Viola da gamba/Viole da gamba/Vdg.|Viola da gamba/Violas da gamba/Vdg.', 'strings.viol.bass', 42, [[B, A]], [38, 38, 69, 74], { tuning: [38, 43, 48, 52, 57, 62] }, 'viola da gamba,gamba,gambe,viole de gambe,vdg'),
  row('violone', 'Violone/Violoni/Vlne.|Violone/Violoni/Vlne.|Violone/Violones/Vlne.|Violone/Violoni/Vlne.|Violone/Violones/Vlne.', 'strings.viol.violone', 43, [B], [31, 31, 62, 67], { tuning: [31, 36, 41, 45, 50, 55] }, ''),
  row('baryton', 'Baryton (strings)/Barytons (strings)/Bryt.|Baryton (Streich)|Baryton à cordes|Viola di bordone|Baritón (cuerda)', 'strings.baryton', 42, [B], [38, 38, 69, 74], {}, 'viola di bordone'),
  row('arpeggione', 'Arpeggione/Arpeggiones/Arp.|Arpeggione/Arpeggionen/Arp.|Arpeggione/Arpeggiones/Arp.|Arpeggione/Arpeggioni/Arp.|Arpeggione', 'strings.arpeggione', 42, [[B, C]], [40, 40, 76, 83], { tuning: [40, 45, 50, 55, 59, 64] }, ''),
  row('hardanger-fiddle', 'Hardanger Fiddle/Hardanger Fiddles/Hard. Fd.|Hardangerfiedel/Hardangerfiedeln/Hard.|Violon de Hardanger|Violino di Hardanger|Violín de Hardanger', 'strings.fiddle.hardanger', 110, [C], [57, 57, 93, 98], {}, ''),
  row('nyckelharpa', 'Nyckelharpa/Nyckelharpas/Nyck.|Schlüsselfidel/Schlüsselfideln/Schlf.|Nyckelharpa|Nyckelharpa|Nyckelharpa', 'strings.nyckelharpa', 110, [C], [48, 48, 84, 88], {}, ''),
  row('hurdy-gurdy', 'Hurdy-gurdy/Hurdy-gurdies/H.-g.|Drehleier/Drehleiern/Drehl.|Vielle à roue/Vielles à roue/V. r.|Ghironda/Ghironde/Ghir.|Zanfona/Zanfonas/Zanf.', 'strings.hurdy-gurdy', 110, [C], [55, 55, 86, 91], {}, 'hurdy gurdy'),
  row('vielle', 'Medieval Fiddle/Medieval Fiddles/Med. Fd.|Fidel/Fideln/Fid.|Vièle/Vièles/Viè.|Viella/Vielle/Viel.|Vihuela de arco', 'strings.vielle', 110, [C], [50, 50, 81, 86], {}, ''),
  row('rebec', 'Rebec/Rebecs/Reb.|Rebec/Rebecs/Reb.|Rebec/Rebecs/Reb.|Ribeca/Ribeche/Rib.|Rabel/Rabeles/Rab.', 'strings.rebec', 110, [C], [55, 55, 84, 88], {}, ''),
  row('erhu', 'Erhu/Erhus/Erhu|Erhu|Erhu|Erhu|Erhu', 'strings.erhu', 110, [C], [62, 62, 91, 98], { lines: true }, ''),
  row('kamancha', 'Kamancha/Kamanchas/Kam.|Kamantsche|Kamantcheh|Kamancha|Kamancha', 'strings.kamancha', 110, [C], [55, 55, 86, 91], {}, 'kemenche,kemence,kemanche'),
  row('morin-khuur', 'Morin khuur/Morin khuurs/M. kh.|Pferdekopfgeige|Morin khuur|Morin khuur|Morin juur', 'strings.morin-khuur', 110, [B], [41, 41, 72, 77], {}, 'horsehead fiddle'),
  row('strings', 'Strings/Strings/Str.|Streicher/Streicher/Str.|Cordes/Cordes/Cord.|Archi/Archi/Arch.|Cuerdas/Cuerdas/Cdas.', 'strings.group', 48, [[C, B], [B, C]], [28, 28, 96, 103], {}, 'synth strings,syn strings,string,str,string ensemble,string section,strs,strg,strgs,arco ens,string ens,string orchestra,full strings,string orch'),
];
