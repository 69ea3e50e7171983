// The sentence for every code of a message or trail step, as one table. words.cpp builds the text.
#pragma once

#include <span>
#include <string_view>

#include "shop/figures.h"

namespace pecorra {

// Part of a sentence, with its figures in braces (see Figures::put_into).
struct SentencePart {
  const char* text = nullptr;                      // to be translated in the context "Words"
  bool (*when)(const Figures& figures) = nullptr;  // null: always
  bool listed = false;                             // preceded by a comma after another listed part
};

struct Sentence {
  std::string_view code;
  SentencePart parts[12];  // those that apply, in this order
};

std::span<const Sentence> message_sentences();
std::span<const Sentence> hole_sentences();  // among them
std::span<const Sentence> trail_sentences();

}  // namespace pecorra
