// The tables of keys that others hang on, each in the file of its name.
#pragma once

#include "rulebook/key.h"

namespace rakugo::rulebook {

KeyTable& kindKeys();       ///< keys_kind.cpp
KeyTable& roleKeys();       ///< keys_card.cpp
KeyTable& pointKeys();      ///< keys_card.cpp
KeyTable& fieldKeys();      ///< keys_card.cpp
KeyTable& gameListKeys();   ///< keys_card.cpp
KeyTable& conditionKeys();  ///< keys_card.cpp
KeyTable& skeletonKeys();   ///< keys_skeleton.cpp
KeyTable& targetKeys();     ///< keys_looks.cpp
KeyTable& packedKeys();     ///< keys_looks.cpp
KeyTable& switchKeys();     ///< keys_looks.cpp
KeyTable& toneKeys();       ///< keys_looks.cpp

}  // namespace rakugo::rulebook
