// JSON written straight as text, without a document: in the order it is told, laid out as a document's dump(2).
#pragma once

#include <cmath>
#include <cstdint>
#include <memory>
#include <string>
#include <string_view>

#include "core/base/message.h"

namespace pecorra {

// A text in quotes, escaped. Not checked: it has to be UTF-8.
void put_json_text(std::string& out, std::string_view text);

class JsonText {
 public:
  JsonText() : room_(8192), text_(new char[room_]) {}

  // Returns where in the text it begins.
  std::size_t begin_object() { return begin('{'); }
  void end_object() { end('}'); }
  std::size_t begin_array() { return begin('['); }
  void end_array() { end(']'); }
  void key(std::string_view key);

  void put(double number);  // finite
  void put(std::int64_t number);
  void put(int number) { put(std::int64_t{number}); }
  void put(bool flag);
  void put(std::string_view text);
  void put(const char* text) { put(std::string_view(text)); }
  void put(const std::string& text) { put(std::string_view(text)); }
  template <class Value>
  void put(std::string_view name, const Value& value) {
    key(name);
    put(value);
  }
  // Left out if it is not finite.
  void put_known(std::string_view name, double number) {
    if (std::isfinite(number)) put(name, number);
  }
  // An object; absent and not finite values are left out.
  void put(const Details& details);

  // Taken from such a text, as deep inside it.
  void put_written(std::string_view object);

  std::string_view text() const { return {text_.get(), size_}; }

 private:
  std::size_t begin(char bracket);
  void end(char bracket);
  void next();  // comma, new line and indentation before an item
  void line();
  // Where so many characters can be written; `to` is behind the last of them.
  char* room(std::size_t characters);
  void written(const char* to) { size_ = static_cast<std::size_t>(to - text_.get()); }
  void append(std::string_view text);
  void append(char c) {
    char* at = room(1);
    *at = c;
    written(at + 1);
  }
  void append_quoted(std::string_view text);
  std::size_t room_, size_ = 0;
  std::unique_ptr<char[]> text_;
  int level_ = 0;
  bool first_ = true, after_key_ = false;
};

}  // namespace pecorra
