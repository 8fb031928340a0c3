/** The words of log headers in the languages loggers speak, and the English ones the rest of the code knows. */

/**
 * Words separated by blanks as stems: matched at the start of a word without accents, or inside one where they begin with "*"; "_" stands
 * for a blank inside.
 */
const STEMS: [english: string, stems: string][] = [
  [
    'room',
    'raum* zimmer* umgebung* *umgebung temperature_piece temperature_de_la_piece ambiante* ambiental* ambiente* interieur salle sala stanza habitacion kamer* omgeving* pokoj* pomieszcz* otoczen*',
  ],
  ['inlet', 'zuluft* ansaug* einlass* admission entree entrada ingresso aspirazione inlaat* toevoer* aanzuig* wlot* nawiew*'],
  ['exhaust air', 'abluft* auslass* fortluft* sortie salida saida scarico uscita uitlaat* afvoer* wylot* wyciag*'],
  ['air', 'luft* *luft aire aria lucht* powietrz*'],
  ['core', 'kern kerne kernen kerntemp* kernspann* kerntakt* coeur coeurs nucleo* rdzen*'],
  ['die', 'chiptemp* halbleiter* puce uklad*'],
  ['hot spot', 'hotspot heissest* warmst* heisspunkt point_chaud punto_caliente punto_caldo ponto_quente goracy_punkt warmste_punt'],
  ['junction', 'sperrschicht* jonction union_termica giunzione juncao junctie zlacz*'],
  ['package', 'gehause boitier* encapsulado paquete contenitore pacote behuizing* obudow*'],
  ['water', 'wasser* kuhlmittel* kuhlflussigkeit* eau liquide agua acqua liquido koelvloeistof* koelwater* chlodz* ciecz* wod*'],
  ['power', 'leistung* *leistung puissance* potencia* potenza vermogen* moc mocy'],
  [
    'clock',
    'takt* *takt frequenz* frequence* horloge frecuencia* reloj frequenza frequencia klok* kloksnelheid frequentie* taktowani* czestotliw* zegar*',
  ],
  ['fan', 'lufter* *lufter ventilateur* ventilador* ventola* ventilatore* ventilator* wentylator*'],
  ['noise', 'schall* larm* gerausch* bruit* ruido* rumore* geluid* halas* cisnieni* sonor*'],
  ['load', 'auslastung* *auslastung taux_de_charge carga* utilizzo carico gebruik belasting* obciaz* uzyci*'],
  ['temperature', 'temperatur* *temperatur temperatura*'],
  ['voltage', 'spannung* *spannung tension voltaje voltagem tensione spanning* napiec*'],
  ['time', 'zeit* uhrzeit zeitstempel horodatage heure* temps hora tiempo tempo ora orario tijd* tijdstip czas* godzina'],
  ['date', 'datum data fecha'],
  ['throttling', 'drossel* bridage estrangulamiento'],
];

/** Words of languages without spaces, matched anywhere. */
const SIGNS: [english: string, signs: string][] = [
  ['room', '室温 部屋 室内 周囲 周辺 环境 環境 室內 周围 실내 실온 주변 환경'],
  ['inlet', '吸気 进风 進風 흡기'],
  ['exhaust air', '排気 出风 出風 배기'],
  ['air', '空気 空气 空氣 공기'],
  ['core', 'コア 核心 内核 코어'],
  ['die', 'ダイ チップ 芯片 晶片 다이 칩'],
  ['hot spot', 'ホットスポット 热点 熱點 핫스팟 最高温点'],
  ['junction', '接合部 ジャンクション 结温 結溫 정션 접합'],
  ['package', 'パッケージ 封装 封裝 패키지'],
  ['water', '水温 冷却水 冷却液 水溫 냉각수 수온'],
  ['power', '電力 消費電力 功率 功耗 전력'],
  ['clock', 'クロック 周波数 频率 頻率 时钟 時脈 클럭 클록 주파수'],
  ['fan', 'ファン 风扇 風扇 팬'],
  ['noise', '騒音 噪音 噪声 소음'],
  ['load', '使用率 負荷 负载 負載 占用 사용률 부하'],
  ['temperature', '温度 溫度 온도 室温 水温 结温 結溫 水溫'],
  ['voltage', '電圧 电压 電壓 전압'],
  ['time', '時刻 時間 时间 시간 시각'],
  ['date', '日付 日期 날짜'],
];

const wordSets = STEMS.map(([english, text]) => [english, text.split(' ').map(patternOf)] as const);
const signSets = SIGNS.map(([english, text]) => [english, text.split(' ')] as const);

/** A stem as a pattern over text without accents: at the start of a word, or inside one behind a "*"; whole where no "*" ends it. */
function patternOf(stem: string): RegExp {
  const core = stem.replace(/^\*|\*$/g, '').replace(/_/g, '[ -]?');
  return new RegExp(`${stem.startsWith('*') ? '' : '\\b'}${core}${stem.endsWith('*') ? '' : '\\b'}`);
}

/** Lower case, without accents; ß as ss, ł as l. */
const plain = (text: string): string =>
  text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().replace(/ß/g, 'ss').replace(/ł/g, 'l').replace(/ø/g, 'o');

const isAscii = (text: string) => /^[\u0020-\u007e°²³µ]*$/.test(text);

/**
 * A header's words with the English ones for those of other languages behind them: "Raumtemperatur" becomes "Raumtemperatur room
 * temperature". Names are not changed for people; only what is told from them.
 */
export function english(name: string): string {
  const text = plain(name);
  const found = wordSets.flatMap(([word, patterns]) => (patterns.some((p) => p.test(text)) ? [word] : []));
  if (!isAscii(name)) for (const [word, signs] of signSets) if (signs.some((s) => name.includes(s))) found.push(word);
  return found.length === 0 ? name : `${name} ${found.join(' ')}`;
}

const MONTHS = [
  'january jan januar janvier janv enero ene gennaio gen janeiro januari stycznia styczen sty 1월 1月',
  'february feb februar fevrier fevr fev febrero febbraio fevereiro februari lutego luty lut 2월 2月',
  'march mar marz mrz maerz mars marzo marco maart mrt marca marzec 3월 3月',
  'april apr avril avr abril abr aprile kwietnia kwiecien kwi 4월 4月',
  'may mai mayo maggio mag maio mei maja maj 5월 5月',
  'june jun juni juin junio giugno giu junho czerwca czerwiec cze 6월 6月',
  'july jul juli juillet juil julio luglio lug julho lipca lipiec lip 7월 7月',
  'august aug aout agosto ago augustus sierpnia sierpien sie 8월 8月',
  'september sep sept septembre septiembre settembre set setembro wrzesnia wrzesien wrz 9월 9月',
  'october oct oktober okt octobre octubre ottobre ott outubro out pazdziernika pazdziernik paz 10월 10月',
  'november nov novembre noviembre novembro listopada listopad lis 11월 11月',
  'december dec dezember dez decembre diciembre dic dicembre dezembro grudnia grudzien gru 12월 12月',
].map((names) => new Set(names.split(' ')));

/** Month from 1 to 12 by its name or short name in any of the languages; null where it is none. */
export function monthOf(name: string): number | null {
  const at = MONTHS.findIndex((names) => names.has(plain(name).replace(/\.$/, '')));
  return at < 0 ? null : at + 1;
}
