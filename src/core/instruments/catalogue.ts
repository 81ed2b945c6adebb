import type { Clef, Transposition } from '../model/score';

export type Family =
  | 'woodwind'
  | 'brass'
  | 'percussion'
  | 'keyboard'
  | 'plucked'
  | 'voice'
  | 'strings'
  | 'electronic';

/** What the catalogue knows of an instrument. Ranges are sounding MIDI keys, written by common practice. */
export interface Instrument {
  id: string;
  name: string;
  abbreviation: string;
  family: Family;
  /** MusicXML 4.0 standard sound id. */
  sound: string;
  /** General MIDI Level 1 program, 0–127. */
  program: number;
  /** Per staff the clefs in use, the usual one first. */
  clefs: readonly (readonly Clef[])[];
  lowest: number;
  highest: number;
  transposition: Transposition;
  /** One line of notes: overlaps are legato, not chords. */
  singleLine: boolean;
  /** Percussion without pitch, laid out by drum sound. */
  unpitched: boolean;
  /** Numbered with Roman numerals (violins) rather than Arabic. */
  romanNumbers: boolean;
  /** Other names, in several languages, in lower case without accents. */
  aliases: readonly string[];
}

interface Traits {
  transposes?: [diatonic: number, chromatic: number];
  lines?: boolean;
  unpitched?: boolean;
  roman?: boolean;
}

const C: Clef = 'treble';
const B: Clef = 'bass';

function instrument(
  id: string,
  family: Family,
  name: string,
  abbreviation: string,
  sound: string,
  program: number,
  clefs: (Clef | Clef[])[],
  range: [number, number],
  aliases: string,
  traits: Traits = {},
): Instrument {
  const [diatonic, chromatic] = traits.transposes ?? [0, 0];
  return {
    id,
    name,
    abbreviation,
    family,
    sound,
    program,
    clefs: clefs.map((clef) => (Array.isArray(clef) ? clef : [clef])),
    lowest: range[0],
    highest: range[1],
    transposition: { diatonic, chromatic },
    singleLine: traits.lines ?? false,
    unpitched: traits.unpitched ?? false,
    romanNumbers: traits.roman ?? false,
    aliases: aliases.split(',').map((alias) => alias.trim()),
  };
}

const line = { lines: true };
const drum = { unpitched: true };
const octaveDown: Traits = { transposes: [-7, -12] };

// biome-ignore format: a table, one instrument a line
/**
 * The catalogue, in score order (woodwind, brass, percussion, keyboards,
 * plucked, voices, strings; high before low: common practice). Sound ids are
 * from the MusicXML 4.0 standard sounds, programs from General MIDI Level 1,
 * ranges and transpositions from handbook practice.
 */
export const CATALOGUE: readonly Instrument[] = [
  instrument('piccolo', 'woodwind', 'Piccolo', 'Picc.', 'wind.flutes.flute.piccolo', 72, [C], [74, 108], 'piccolo,picc,flauto piccolo,kleine flote,petite flute,ottavino,pic,flute piccolo,ottavini,petites flutes,pikkolo,piccoloflote,flautin,piccolos', { lines: true, transposes: [7, 12] }),
  instrument('flute', 'woodwind', 'Flute', 'Fl.', 'wind.flutes.flute', 73, [C], [59, 98], 'flute,flutes,fl,flauto,flauti,flote,floten,grosse flote,flauta,fls,querflote,querfloten,flauto grande,grande flute,flautas,flt', line),
  instrument('alto-flute', 'woodwind', 'Alto Flute', 'A. Fl.', 'wind.flutes.flute.alto', 73, [C], [55, 91], 'alto flute,alt flute,altflote,flauto contralto,alto fl,flute alto,flute en sol,flute in g,flauta alto,flauto in sol,a fl', { lines: true, transposes: [-3, -5] }),
  instrument('recorder', 'woodwind', 'Recorder', 'Rec.', 'wind.flutes.recorder', 74, [C], [60, 98], 'recorder,rec,blockflote,flauto dolce,flute a bec,blockfloten,flauta dulce,flauta de pico,recorders', line),
  instrument('oboe', 'woodwind', 'Oboe', 'Ob.', 'wind.reed.oboe', 68, [C], [58, 93], 'oboe,oboes,ob,oboi,hautbois,oboen,obs,htb,hb,hoboe,oboe i', line),
  instrument('english-horn', 'woodwind', 'English Horn', 'E. Hn.', 'wind.reed.english-horn', 69, [C], [52, 84], 'english horn,cor anglais,corno inglese,englischhorn,eh,ca,engl horn,eng horn,eng hn,e hn,corni inglesi,c a,corno ingles,e h', { lines: true, transposes: [-4, -7] }),
  instrument('clarinet-eflat', 'woodwind', 'E♭ Clarinet', 'E♭ Cl.', 'wind.reed.clarinet.eflat', 71, [C], [55, 96], 'e flat clarinet,eb clarinet,es klarinette,clarinet in eb,clarinet in e flat,klarinette in es,eb cl,piccolo clarinet,eb clar,esklarinette,clarinette en mib,petite clarinette,clarinetto in mib,clarinetto piccolo,requinto,d clarinet', { lines: true, transposes: [2, 3] }),
  instrument('clarinet-bflat', 'woodwind', 'B♭ Clarinet', 'B♭ Cl.', 'wind.reed.clarinet.bflat', 71, [C], [50, 94], 'clarinet,clarinets,cl,clar,clarinetto,clarinetti,klarinette,klarinetten,clarinette,b flat clarinet,bb clarinet,clarinet in bb,clarinet in b flat,klarinette in b,clarinet in b,bb cl,cls,clars,clt,klar,clarinettes,clarinete,clarinetes,clarinette en sib,clarinetto in sib', { lines: true, transposes: [-1, -2] }),
  instrument('clarinet-a', 'woodwind', 'A Clarinet', 'A Cl.', 'wind.reed.clarinet.a', 71, [C], [49, 93], 'clarinet in a,klarinette in a,a clarinet,clarinetto in la,clarinette en la,cl a,cl in a,clar in a', { lines: true, transposes: [-2, -3] }),
  instrument('bass-clarinet', 'woodwind', 'Bass Clarinet', 'B. Cl.', 'wind.reed.clarinet.bass', 71, [C], [38, 82], 'bass clarinet,b cl,bcl,bassklarinette,clarinetto basso,bass cl,clarinette basse,bass clar,bassklar,clarone,clarinete bajo', { lines: true, transposes: [-8, -14] }),
  instrument('bassoon', 'woodwind', 'Bassoon', 'Bsn.', 'wind.reed.bassoon', 70, [[B, 'tenor']], [34, 76], 'bassoon,bassoons,bsn,fagotto,fagotti,fagott,fag,basson,bn,bsns,bns,fagotte,fags,bassons,fagot,fagotes', line),
  instrument('contrabassoon', 'woodwind', 'Contrabassoon', 'Cbsn.', 'wind.reed.contrabassoon', 70, [B], [22, 53], 'contrabassoon,cbsn,kontrafagott,controfagotto,double bassoon,contrebasson,contra bassoon,contra bsn,c bsn,kfag,contrefagott,contrafagot,cfg', { lines: true, transposes: [-7, -12] }),
  instrument('soprano-saxophone', 'woodwind', 'Soprano Saxophone', 'S. Sax.', 'wind.reed.saxophone.soprano', 64, [C], [56, 88], 'soprano sax,soprano saxophone,sop sax,sopran saxophon,sopransaxophon,s sax,ssax,sopransax,sax soprano,saxophone soprano,saxofon soprano,soprano sx', { lines: true, transposes: [-1, -2] }),
  instrument('alto-saxophone', 'woodwind', 'Alto Saxophone', 'A. Sax.', 'wind.reed.saxophone.alto', 65, [C], [49, 81], 'alto sax,alto saxophone,alt saxophon,altsaxophon,a sax,asax,alto saxes,sax,saxophone,saxes,saxophon,alt sax,a sx,altsax,sax alto,saxophone alto,sax contralto,saxofon alto,alto sx', { lines: true, transposes: [-5, -9] }),
  instrument('tenor-saxophone', 'woodwind', 'Tenor Saxophone', 'T. Sax.', 'wind.reed.saxophone.tenor', 66, [C], [44, 76], 'tenor sax,tenor saxophone,ten sax,tenorsaxophon,t sax,tsax,tenor saxes,t sx,ten sx,tenorsax,sax tenor,sax tenore,saxophone tenor,saxofon tenor', { lines: true, transposes: [-8, -14] }),
  instrument('baritone-saxophone', 'woodwind', 'Baritone Saxophone', 'B. Sax.', 'wind.reed.saxophone.baritone', 67, [C], [36, 69], 'baritone sax,baritone saxophone,bari sax,bari,baritonsaxophon,b sax,bsax,bar sax,baritonsax,sax baritono,sax baryton,saxophone baryton,saxofon baritono,bari sx', { lines: true, transposes: [-12, -21] }),
  instrument('horn-f', 'brass', 'Horn', 'Hn.', 'brass.french-horn', 60, [[C, B]], [34, 77], 'horn,horns,hn,hns,hrn,french horn,f horn,horn in f,corno,corni,horner,cor,cors,frhn,waldhorn,hrns,french horns,f hn,f hns,fr horn,fr hn,fhn,waldhorner,cor en fa,corno in fa,trompa,trompas', { lines: true, transposes: [-4, -7] }),
  instrument('cornet', 'brass', 'Cornet', 'Cnt.', 'brass.cornet', 56, [C], [52, 84], 'cornet,cornets,cnt,kornett,cornetta,crt,kornette,cornette,cornet a pistons,corneta,solo cornet,rep cornet,repiano cornet,soprano cornet', { lines: true, transposes: [-1, -2] }),
  instrument('trumpet-c', 'brass', 'C Trumpet', 'C Tpt.', 'brass.trumpet.c', 56, [C], [54, 86], 'trumpet in c,c trumpet,trompete in c,c tpt,trompette en ut,tromba in do,trompeta en do,trompette en do', line),
  instrument('trumpet-bflat', 'brass', 'B♭ Trumpet', 'B♭ Tpt.', 'brass.trumpet.bflat', 56, [C], [52, 84], 'trumpet,trumpets,tpt,tpts,trp,trpt,tromba,trombe,trompete,trompeten,trompette,trumpet in bb,trumpet in b flat,bb trumpet,trompete in b,trompeta,trps,trpts,trmp,tr,trompettes,trompetas,tromba in sib,trompette en sib,lead trumpet', { lines: true, transposes: [-1, -2] }),
  instrument('flugelhorn', 'brass', 'Flugelhorn', 'Flghn.', 'brass.flugelhorn', 56, [C], [52, 82], 'flugelhorn,flugel,flgl,fluegelhorn,flghn,flicorno,flugelhorns,flugel horn,flugel hn,bugle,fiscorno,flg', { lines: true, transposes: [-1, -2] }),
  instrument('trombone', 'brass', 'Trombone', 'Tbn.', 'brass.trombone', 57, [[B, 'tenor']], [40, 74], 'trombone,trombones,tbn,tbns,trb,posaune,posaunen,tromboni,trbn,bone,bones,trbs,trbns,tbone,t bone,t bones,pos,trombon,trombonen,tenor trombone,tenorposaune', line),
  instrument('bass-trombone', 'brass', 'Bass Trombone', 'B. Tbn.', 'brass.trombone.bass', 57, [B], [34, 70], 'bass trombone,b tbn,btbn,bassposaune,trombone basso,bass tbn,bass trb,bass bone,b trb,basspos,trombone basse,trombon bajo', line),
  instrument('euphonium', 'brass', 'Euphonium', 'Euph.', 'brass.euphonium', 58, [B], [40, 72], 'euphonium,euph,baritone horn,tenorhorn,eufonio,euphoniums,baritone tc,tenorhorner,bombardino,flicorno baritono,baritonhorn', line),
  instrument('tuba', 'brass', 'Tuba', 'Tba.', 'brass.tuba', 58, [B], [26, 65], 'tuba,tubas,tba,basstuba,bass tuba,kontrabasstuba,sousaphone,tb,contrabass tuba,eb bass,bb bass,e flat bass,b flat bass,f tuba,tuben', line),
  instrument('timpani', 'percussion', 'Timpani', 'Timp.', 'drum.timpani', 47, [B], [36, 60], 'timpani,timp,timps,pauken,timbales,kettledrums,kettle drums,timpano,pauke,timbales orch,timbal,timbal es,kettledrum', line),
  instrument('glockenspiel', 'percussion', 'Glockenspiel', 'Glock.', 'pitched-percussion.glockenspiel', 9, [C], [79, 108], 'glockenspiel,glock,glsp,campanelli,orchestra bells,glk,orch bells,jeu de timbres,carillon,lira', { transposes: [14, 24] }),
  instrument('crotales', 'percussion', 'Crotales', 'Crot.', 'pitched-percussion.crotales', 9, [C], [84, 108], 'crotales,crot,antique cymbals,crotale,crotali,zimbeln,antike zimbeln', { transposes: [14, 24] }),
  instrument('xylophone', 'percussion', 'Xylophone', 'Xyl.', 'pitched-percussion.xylophone', 13, [C], [65, 108], 'xylophone,xyl,xylo,xylophon,silofono,xylofon,xilofono,xilofon', { transposes: [7, 12] }),
  instrument('vibraphone', 'percussion', 'Vibraphone', 'Vib.', 'pitched-percussion.vibraphone', 11, [C], [53, 89], 'vibraphone,vib,vibes,vibraphon,vibrafono,vbs,vibrafon'),
  instrument('marimba', 'percussion', 'Marimba', 'Mar.', 'pitched-percussion.marimba', 12, [[C, B]], [45, 96], 'marimba,mar,mba,marimbaphon,marimbas,marimbafono'),
  instrument('tubular-bells', 'percussion', 'Tubular Bells', 'T. Bells', 'pitched-percussion.tubular-bells', 14, [C], [60, 77], 'tubular bells,chimes,bells,rohrenglocken,campane,cloches,tub bells,campane tubolari,cloches tubulaires,campanas,campanas tubulares'),
  instrument('drum-set', 'percussion', 'Drum Set', 'Dr.', 'drum.group.set', 0, ['percussion'], [27, 87], 'drum set,drums,drum,drumset,drum kit,drumkit,kit,schlagzeug,batteria,batterie,dr,drs,drm,drms,dr kit,bateria,drum loop,trap set', drum),
  instrument('snare-drum', 'percussion', 'Snare Drum', 'S.D.', 'drum.snare-drum', 0, ['percussion'], [27, 87], 'snare drum,snare,side drum,kleine trommel,caisse claire,tamburo,snares,sd,s d,kl trommel,caisse cl,tamburo militare,caja,redoblante', drum),
  instrument('bass-drum', 'percussion', 'Bass Drum', 'B.D.', 'drum.bass-drum', 0, ['percussion'], [27, 87], 'bass drum,gran cassa,grosse trommel,grosse caisse,concert bass drum,bd,b d,gr cassa,grancassa,gr trommel,orch bass drum,bombo', drum),
  instrument('cymbals', 'percussion', 'Cymbals', 'Cym.', 'metal.cymbal.crash', 0, ['percussion'], [27, 87], 'cymbals,cymbal,cym,piatti,becken,cymbales,sus cymbal,suspended cymbal,cyms,piatto,cymbale,platos,platillos,sus cym,crash cymbals,hangendes becken', drum),
  instrument('percussion', 'percussion', 'Percussion', 'Perc.', 'drum.group', 0, ['percussion'], [27, 87], 'percussion,perc,percussione,schlagwerk,triangle,tambourine,tam tam,gong,shaker,congas,conga,bongos,toms,taiko,woodblock,claves,percs,percussioni,percusion,triangolo,triangel,tamb,tamburello,shakers,bongo,taikos,guiro,cabasa,maracas,cowbell,mark tree,wind chimes,cajon,djembe,udu', drum),
  instrument('harp', 'plucked', 'Harp', 'Hp.', 'pluck.harp', 46, [[C, B], [B, C]], [23, 103], 'harp,harps,hp,hrp,arpa,harfe,harpe,harfen,harpes,arpe,arpas'),
  instrument('piano', 'keyboard', 'Piano', 'Pno.', 'keyboard.piano', 0, [[C, B], [B, C]], [21, 108], 'piano,pianoforte,pno,pf,klavier,flugel klavier,grand piano,klav,upright piano,pianos,pnos,grand,upright pno,piano a queue,pn'),
  instrument('electric-piano', 'keyboard', 'Electric Piano', 'E. Pno.', 'keyboard.piano.electric', 4, [[C, B], [B, C]], [28, 103], 'electric piano,e piano,epiano,e pno,ep,el piano,keyboard,keys,keyboards,kbd,elec piano,epno,rhodes,fender rhodes,wurlitzer,wurli,wurly,piano electrique,piano elettrico,piano electrico,kbds,clavinet,clav'),
  instrument('celesta', 'keyboard', 'Celesta', 'Cel.', 'keyboard.celesta', 8, [[C, B], [B, C]], [60, 108], 'celesta,celeste,cel,celesta s', { transposes: [7, 12] }),
  instrument('harpsichord', 'keyboard', 'Harpsichord', 'Hpsd.', 'keyboard.harpsichord', 6, [[C, B], [B, C]], [29, 89], 'harpsichord,hpsd,cembalo,clavecin,clavicembalo,harpsi,hpschd,clave,clavecimbalo,clavicordio'),
  instrument('organ', 'keyboard', 'Organ', 'Org.', 'keyboard.organ', 19, [[C, B], [B, C]], [24, 96], 'organ,org,orgel,orgue,organo,pipe organ,church organ,hammond,organs,orgues,hammond organ,b 3,hammond b 3,organ ped,kirchenorgel'),
  instrument('accordion', 'keyboard', 'Accordion', 'Acc.', 'keyboard.accordion', 21, [[C, B], [B, C]], [29, 93], 'accordion,acc,accord,akkordeon,fisarmonica,accordeon,accordn,akk,acordeon,bandoneon,musette'),
  instrument('classical-guitar', 'plucked', 'Classical Guitar', 'Guit.', 'pluck.guitar.nylon-string', 24, [C], [40, 83], 'guitar,classical guitar,nylon guitar,gitarre,guitare,chitarra,gtr,guit,konzertgitarre,guitars,class guitar,nylon gtr,nylon string guitar,spanish guitar,klassische gitarre,guitare classique,chitarra classica,guitarra clasica,guitarra espanola', octaveDown),
  instrument('acoustic-guitar', 'plucked', 'Acoustic Guitar', 'A. Guit.', 'pluck.guitar.acoustic', 25, [C], [40, 83], 'acoustic guitar,steel guitar,ac guitar,ac gtr,agtr,acoustic gtr,steel gtr,acou gtr,a gtr,steel string guitar,12 string guitar,12 str gtr,12 string gtr,akustikgitarre,westerngitarre,folk guitar,guitare acoustique,guitare folk,chitarra acustica,guitarra acustica', octaveDown),
  instrument('electric-guitar', 'plucked', 'Electric Guitar', 'E. Guit.', 'pluck.guitar.electric', 27, [C], [40, 88], 'electric guitar,e guitar,el guitar,e gtr,egtr,elec gtr,el gtr,electric gtr,clean gtr,e gitarre,lead guitar,rhythm guitar,clean guitar,distortion guitar,lead gtr,rhythm gtr,elec guitar,el gt,el git,distorted guitar,distorted gtr,dist guitar,dist gtr,jazz guitar,jazz gtr,muted guitar,egitarre,guitare electrique,chitarra elettrica,guitarra electrica', octaveDown),
  instrument('mandolin', 'plucked', 'Mandolin', 'Mand.', 'pluck.mandolin', 25, [C], [55, 93], 'mandolin,mand,mandoline,mandolino,mandolins,mdn,mandolini,mandolina,bandurria'),
  instrument('banjo', 'plucked', 'Banjo', 'Bjo.', 'pluck.banjo', 105, [C], [48, 88], 'banjo,bjo,banjos,5 string banjo', octaveDown),
  instrument('ukulele', 'plucked', 'Ukulele', 'Uke.', 'pluck.ukulele', 24, [C], [60, 88], 'ukulele,uke,ukelele,ukuleles'),
  instrument('bass-guitar', 'plucked', 'Bass Guitar', 'Bass', 'pluck.bass.electric', 33, [B], [28, 67], 'bass guitar,electric bass,e bass,ebass,el bass,elec bass,bassgitarre,basso elettrico,fretless bass,slap bass,finger bass,bass gtr,bgtr,bass,b gtr,basse,guitare basse,basse electrique,bajo,bajo electrico,fretless,picked bass,pick bass,contrabajo electrico', octaveDown),
  instrument('soprano', 'voice', 'Soprano', 'S.', 'voice.soprano', 52, [C], [59, 84], 'soprano,sop,sopran,soprani,soprano voice,sopranos,soprane,s', line),
  instrument('mezzo-soprano', 'voice', 'Mezzo-soprano', 'Mez.', 'voice.mezzo-soprano', 52, [C], [57, 81], 'mezzo soprano,mezzo,mezzosopran,mezzosoprano,mez,mezzos', line),
  instrument('alto', 'voice', 'Alto', 'A.', 'voice.alto', 52, [C], [53, 77], 'alto,contralto,altos,alti,alto voice,contralti,contraltos,alt', line),
  instrument('tenor', 'voice', 'Tenor', 'T.', 'voice.tenor', 52, ['treble8vb'], [47, 72], 'tenor,ten,tenore,tenors,tenori,tenor voice,tenores,tenore voce', line),
  instrument('baritone', 'voice', 'Baritone', 'Bar.', 'voice.baritone', 52, [B], [43, 67], 'baritone,bariton,baritono,baritone voice,baryton,baritoni', line),
  instrument('bass-voice', 'voice', 'Bass', 'B.', 'voice.bass', 52, [B], [38, 64], 'bass voice,basso,bassi,bass vox,voice bass,bass singer,basso voce,basses voix,bajo voz', line),
  instrument('voice', 'voice', 'Voice', 'Vo.', 'voice.vocals', 53, [C], [50, 84], 'voice,vocal,vocals,vox,lead vocal,gesang,stimme,canto,chant,singer,melody,voices,vx,lead vox,lead voc,backing vocal,backing vox,bgv,bvs,stimmen,voix,voce,voci,voz,voces', line),
  instrument('choir', 'voice', 'Choir', 'Ch.', 'voice.choir', 52, [[C, B]], [40, 84], 'choir,chorus,chor,coro,choeur,aahs,oohs,choirs,chore,cori,coros,choeurs,aah,ooh,choir aahs,choir oohs,satb'),
  instrument('violin', 'strings', 'Violin', 'Vln.', 'strings.violin', 40, [C], [55, 103], 'violin,violins,vln,vlns,vl,vn,vni,violine,violinen,violino,violini,violon,violons,geige,geigen,fiddle,vls,vns,vno,viol,v,violines', { roman: true }),
  instrument('viola', 'strings', 'Viola', 'Vla.', 'strings.viola', 41, [['alto', C]], [48, 93], 'viola,violas,vla,vlas,va,viole,bratsche,bratschen,altos cordes,vas,vle,vla s,br,alto cordes,alto corde'),
  instrument('cello', 'strings', 'Violoncello', 'Vc.', 'strings.cello', 42, [[B, 'tenor']], [36, 81], 'violoncello,cello,cellos,celli,vc,vcl,vlc,violoncelli,violoncelle,violoncelles,vcs,violoncellos,celi,vcls,vlcs,violonchelo,violonchelos,chelo,celos'),
  instrument('double-bass', 'strings', 'Contrabass', 'Cb.', 'strings.contrabass', 43, [B], [28, 67], 'contrabass,double bass,doublebass,cb,db,kontrabass,kontrabasse,contrabbasso,contrabassi,contrebasse,string bass,upright bass,basses,acoustic bass,contrabasses,kb,double basses,string basses,ac bass,cbs,dbs,contrabbassi,contrabasso,contrebasses,contrabajo,contrabajos,bull fiddle', { transposes: [-7, -12] }),
  instrument('strings', 'strings', 'Strings', 'Str.', 'strings.group', 48, [[C, B], [B, C]], [28, 103], 'strings,synth strings,syn strings,string,str,streicher,archi,cordes,string ensemble,string section,strs,strg,strgs,arco ens,cuerdas,string ens,string orchestra,full strings,string orch'),
  instrument('synthesizer', 'electronic', 'Synthesizer', 'Synth.', 'synth', 80, [[C, B]], [21, 108], 'synthesizer,synth,syn,pad,synth lead,synth pad,poly synth,synthesiser,synths,syns,pads,syn pad,warm pad,saw lead,syn arp,arp synth'),
  instrument('synth-bass', 'electronic', 'Synth Bass', 'S. Bass', 'synth.group', 38, [B], [24, 67], 'synth bass,synthbass,bass synth,sub bass,sub,syn bass,moog bass,moog,reese bass,808 bass,acid bass,s bass', octaveDown),
];

const BY_ID = new Map(CATALOGUE.map((entry) => [entry.id, entry]));
const ORDER = new Map(CATALOGUE.map((entry, index) => [entry.id, index]));

/** The instrument with this catalogue id. @throws RangeError for an unknown id */
export function instrumentOf(id: string): Instrument {
  const found = BY_ID.get(id);
  if (!found) throw new RangeError(`No instrument is called "${id}".`);
  return found;
}

export const isInstrumentId = (id: string): boolean => BY_ID.has(id);

/** Place in score order. */
export const scoreOrder = (id: string): number => ORDER.get(id) ?? CATALOGUE.length;

/**
 * The catalogue instrument nearest to a General MIDI program (Level 1 sound
 * set): the exact one where there is one, else one of the same program group.
 */
export function instrumentOfProgram(program: number): Instrument {
  const direct = PROGRAM_CHOICES[program];
  return instrumentOf(direct ?? GROUP_CHOICES[program >> 3]!);
}

// biome-ignore format: a table
/** Programs whose instrument is not the one of their group of eight. */
const PROGRAM_CHOICES: Record<number, string> = {
  4: 'electric-piano', 5: 'electric-piano', 6: 'harpsichord', 7: 'harpsichord', 8: 'celesta',
  9: 'glockenspiel', 10: 'glockenspiel', 11: 'vibraphone', 12: 'marimba', 13: 'xylophone',
  14: 'tubular-bells', 15: 'marimba', 21: 'accordion', 22: 'accordion', 23: 'accordion',
  25: 'acoustic-guitar', 26: 'electric-guitar', 27: 'electric-guitar', 28: 'electric-guitar',
  29: 'electric-guitar', 30: 'electric-guitar', 31: 'electric-guitar', 32: 'double-bass',
  38: 'synth-bass', 39: 'synth-bass', 41: 'viola', 42: 'cello', 43: 'double-bass', 46: 'harp',
  47: 'timpani', 52: 'choir', 53: 'voice', 54: 'voice', 55: 'strings', 57: 'trombone', 58: 'tuba',
  60: 'horn-f', 61: 'trumpet-bflat', 62: 'synthesizer', 63: 'synthesizer', 64: 'soprano-saxophone',
  66: 'tenor-saxophone', 67: 'baritone-saxophone', 68: 'oboe', 69: 'english-horn', 70: 'bassoon',
  71: 'clarinet-bflat', 72: 'piccolo', 74: 'recorder', 105: 'banjo', 106: 'banjo', 107: 'harp',
  108: 'marimba', 109: 'oboe', 110: 'violin', 111: 'oboe', 112: 'glockenspiel', 114: 'marimba',
};
// biome-ignore format: a table
const GROUP_CHOICES = [
  'piano', 'celesta', 'organ', 'classical-guitar', 'bass-guitar', 'violin', 'strings', 'trumpet-bflat',
  'alto-saxophone', 'flute', 'synthesizer', 'synthesizer', 'synthesizer', 'classical-guitar',
  'percussion', 'synthesizer',
];
