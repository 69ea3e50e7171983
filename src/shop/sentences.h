// What every code of a message or of a step of the trail says, as one table. The sentence is put together in words.cpp.
#pragma once

#include <span>
#include <string_view>

#include "shop/figures.h"

namespace pecorra {

// Part of a sentence, with its figures in braces (see Figures::put_into).
struct SentencePart {
  const char* text = nullptr;                      // to be translated in the context "Words"
  bool (*when)(const Figures& figures) = nullptr;  // null: always
  bool listed = false;                             // a comma stands before it when another listed part went before
};

struct Sentence {
  std::string_view code;
  SentencePart parts[12];  // those that apply, one after the other
};

std::span<const Sentence> message_sentences();
std::span<const Sentence> trail_sentences();

}  // namespace pecorra
