// Words for parts of the body in bones' names, in several languages; those that are two words are joined.
#pragma once

namespace rakugo::prepare {

/// The parts, in the order of `BodyPart`.
inline constexpr const char* kBodyPartNames =
    "root hips spine chest neck head collarbone upper-arm forearm hand finger thigh shin foot toe eye jaw "
    "hair tail";

/// A line: the part's number in that order, how much the words speak for it (of 100), the words. A word that
/// is used for two parts stands in two lines and speaks less for either.
inline constexpr const char* kBodyWords = R"(
0 100 root origin ground wurzel racine
0 90 master reference
1 100 hips pelvis becken bassin cadera bacino
1 90 huefte hüfte
1 70 hip hanche
1 50 body
1 35 root
2 100 spine waist abdomen lowerback lumbar bauch colonne ventre columna vientre
2 90 belly stomach wirbel
2 80 ruecken rücken dos espalda schiena
2 70 back torso trunk
2 50 body
3 100 chest thorax ribs ribcage brust brustkorb poitrine pecho petto
3 90 upperchest upperbody
3 60 torso trunk
3 50 spine wirbel ruecken rücken colonne dos columna espalda schiena
3 40 back
4 100 neck hals nacken cou cuello collo
5 100 head skull kopf tete tête cabeza testa
6 100 clavicle collar collarbone clav schluesselbein schlüsselbein clavicule clavicula
6 85 shoulder schulter
6 80 epaule épaule hombro spalla
6 70 scapula
7 100 upperarm uparm armupper humerus oberarm
7 90 bras brazo braccio
7 80 bicep arm
7 60 shoulder schulter epaule épaule hombro spalla
8 100 forearm lowerarm lowarm armlower unterarm avantbras antebrazo avambraccio
8 90 elbow ulna ellbogen coude codo
8 25 arm
9 100 hand mano
9 90 wrist handgelenk poignet
9 80 main
9 70 palm
10 100 finger thumb index pinky daumen pouce doigt dedo dito
10 80 middle ring
10 70 little
11 100 thigh upperleg upleg legupper femur oberschenkel cuisse muslo coscia
11 70 hip
11 60 hanche leg
12 100 shin calf lowerleg lowleg leglower tibia unterschenkel wade mollet pantorrilla polpaccio
12 90 knee knie genou rodilla ginocchio
12 60 leg
13 100 foot fuss fuß pied pie piede
13 90 ankle knoechel cheville tobillo caviglia
14 100 toe toes toebase zeh zehen orteil
14 90 ball
15 100 eye auge
16 100 jaw kiefer
17 100 hair haar
18 100 tail
)";

}  // namespace rakugo::prepare
