// What materials are called in several languages.
#include <sstream>

#include "check/role_proposals.h"
#include "prepare/matching/letters.h"

namespace rakugo::check {
namespace {

constexpr const char* kGroups[] = {
    "glass glas verre vitre vidrio cristal vetro vidro szkło sklo lasi cam стекло γυαλί ガラス 玻璃 유리",
    "window fenster scheibe fenêtre ventana finestra janela raam okno ikkuna окно 窓 窗 창",
    "lamp lampe leuchte lampada lámpara lampa lamppu лампа λάμπα ランプ 灯 램프",
    "light licht lumière luz luce światło světlo ljus valo свет φως ライト 光 빛",
    "bulb birne glühbirne ampoule bombilla lampadina żarówka лампочка 電球 灯泡 전구",
    "lens linse lentille lente soczewka čočka линза レンズ 透镜 렌즈",
    "glow leuchten glühen lueur brillo bagliore świecenie свечение 発光 发光",
    "flame flamme llama fiamma płomień plamen пламя 炎 火焰 불꽃",
    "wood holz bois madera legno madeira hout drewno dřevo puu trä дерево ξύλο 木 나무",
    "timber balken bauholz charpente legname drewno брус 木材 목재",
    "plank planke brett planche tabla tavola deska lankku доска 板 판자",
    "oak eiche chêne roble quercia dąb dub tammi дуб 樫 橡木 참나무",
    "metal metall métal metallo metaal kov metalli металл μέταλλο 金属 금속",
    "iron eisen fer hierro ferro ijzer żelazo železo rauta järn железо 鉄 铁 철",
    "steel stahl acier acero acciaio aço staal stal ocel teräs сталь 鋼 钢 강철",
    "brass messing laiton latón ottone latão mosiądz mosaz messinki латунь 真鍮 黄铜 황동",
    "copper kupfer cuivre cobre rame koper miedź měď kupari медь 銅 铜 구리",
    "gold or oro ouro goud złoto zlato kulta золото 金 금",
    "paint farbe lack anstrich peinture pintura vernice verf farba barva maali краска лак 塗装 油漆 페인트",
    "enamel email émail esmalte smalto emalia эмаль 琺瑯 珐琅",
    "skin haut peau piel pelle pele huid skóra kůže iho hud кожа δέρμα 肌 皮膚 皮肤 피부",
    "face gesicht visage cara viso gezicht twarz obličej kasvot лицо 顔 脸 얼굴",
    "body körper corps cuerpo corpo lichaam ciało tělo keho тело σώμα 体 身体 몸",
    "hand main mano mão ręka ruka käsi рука 手 손",
    "hair haar haare cheveux pelo cabello capelli cabelo włosy vlasy hiukset hår волосы μαλλιά 髪 头发 "
    "머리카락",
    "beard bart barbe barba baard broda vousy parta борода 髭 胡子 수염",
    "brow augenbraue sourcil ceja sopracciglio brew obočí бровь 眉 눈썹",
    "eye auge œil ojo occhio olho oog oko silmä öga глаз μάτι 目 眼 눈",
    "cloth stoff tuch tissu tela stoffa tecido stof tkanina látka kangas tyg ткань ύφασμα 布 천",
    "wool wolle laine lana lã wol wełna vlna villa шерсть 羊毛 양모",
    "canvas leinwand toile lona plátno płótno purjekangas холст парусина 帆布",
    "sail segel voile vela żagiel plachta purje парус πανί 帆 돛",
    "leather leder cuir cuero cuoio couro leer skóra kůže nahka läder δέρμα 革 皮革 가죽",
    "button knopf bouton botón bottone botão knoop guzik knoflík nappi knapp пуговица 釦 ボタン 纽扣 단추",
    "buckle schnalle boucle hebilla fibbia fivela gesp klamra přezka solki пряжка バックル 扣 버클",
    "jacket jacke veste chaqueta giacca jaqueta jas kurtka bunda takki куртка 上着 夹克 재킷",
    "coat mantel manteau abrigo cappotto casaco płaszcz kabát пальто コート 外套 코트",
    "hat hut chapeau sombrero cappello chapéu hoed kapelusz klobouk hattu шляпа 帽子 모자",
    "boot stiefel botte bota stivale laars but saapas сапог 靴 靴子 장화",
    "oil öl huile aceite olio óleo olie olej öljy масло 油 기름",
    "rubber gummi caoutchouc goma gomma borracha guma kumi резина ゴム 橡胶 고무",
    "tyre tire reifen pneu neumático pneumatico pneumatik band opona rengas шина タイヤ 轮胎 타이어",
    "rope seil tau corde cuerda corda touw lina lano köysi верёвка ロープ 绳 밧줄",
    "stone stein pierre piedra pietra pedra steen kamień kámen kivi sten камень πέτρα 石 돌",
    "brick ziegel brique ladrillo mattone tijolo baksteen cegła cihla tiili кирпич 煉瓦 砖 벽돌",
    "granite granit granito graniet żula graniitti гранит 花崗岩 花岗岩 화강암",
    "tar teer goudron brea catrame alcatrão smoła dehet terva tjära смола タール 焦油 타르",
    "keel kiel quille quilla chiglia quilha stępka kýl köli киль 竜骨 龙骨 용골",
    "bottom boden fond fondo fundo bodem dno pohja дно 底 바닥",
    "hull rumpf coque casco scafo romp kadłub trup runko skrov корпус 船体 선체",
    "handle griff stiel poignée manche mango manico cabo handvat uchwyt rukojeť kahva ручка 柄 把手 손잡이",
    "dye färbung teinture tinte tinta tintura barwnik barvivo väri краситель 染料 염료",
    "ground grund boden sol suelo suolo chão grond ziemia země maa земля 地面 땅"};

}  // namespace

const std::vector<std::vector<std::string>>& materialWords() {
  static const std::vector<std::vector<std::string>> kWords = [] {
    std::vector<std::vector<std::string>> out;
    for (const char* group : kGroups) {
      std::istringstream in(group);
      std::vector<std::string>& words = out.emplace_back();
      for (std::string word; in >> word;) words.push_back(prepare::foldedWord(word));
    }
    return out;
  }();
  return kWords;
}

}  // namespace rakugo::check
