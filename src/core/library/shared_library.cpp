#include "core/library/shared_library.h"

#include <array>

namespace pecorra {
namespace {

constexpr std::size_t entry_bytes = 24;

void put(std::string& bytes, std::uint64_t number) {
  for (int shift = 56; shift >= 0; shift -= 8) bytes += static_cast<char>(number >> shift & 0xFF);
}

std::uint64_t number_at(std::string_view bytes) {
  std::uint64_t number = 0;
  for (int i = 0; i < 8; ++i) number = number << 8 | static_cast<unsigned char>(bytes[static_cast<std::size_t>(i)]);
  return number;
}

const std::array shared_list{field<&SharedLibrary::library>("library", "", "Library", Quantity::id, "Contents"),
                             field<&SharedLibrary::file>("file", "", "File", Quantity::text, "Path of the file")};

}  // namespace

template <>
std::span<const Property<SharedLibrary>> properties<SharedLibrary>() {
  return shared_list;
}

std::string bytes_of(const SharedPrints& prints) {
  std::string bytes;
  bytes.reserve(entry_bytes * prints.size());
  for (const auto& [id, print] : prints)
    for (const std::uint64_t number : {id.high, id.low, print}) put(bytes, number);
  return bytes;
}

SharedPrints prints_from(std::string_view bytes) {
  SharedPrints prints;
  prints.reserve(bytes.size() / entry_bytes);
  for (; bytes.size() >= entry_bytes; bytes.remove_prefix(entry_bytes))
    prints[{number_at(bytes), number_at(bytes.substr(8))}] = number_at(bytes.substr(16));
  return prints;
}

SharedState shared_state(std::optional<std::uint64_t> in_common, std::optional<std::uint64_t> ours,
                         std::optional<std::uint64_t> theirs) {
  if (ours == theirs) return SharedState::same;
  if (ours == in_common) return SharedState::from_file;
  return theirs == in_common ? SharedState::to_file : SharedState::both;
}

}  // namespace pecorra
