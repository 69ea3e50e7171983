#include "formats/documents/module.h"

#include <fmt/format.h>
#include <qpdf/qpdf-c.h>
#include <zlib.h>
#include <optional>

namespace pecorra::module {
namespace {

constexpr std::size_t most_bytes = 32u << 20;
constexpr int most_fields = 200000, deepest = 8;
constexpr std::size_t most_lines = 100000, most_columns = 500, most_cells = 2'000'000;
constexpr std::size_t most_unpacked_bytes = 256u << 20;

struct Document {
  qpdf_data data = qpdf_init();
  Document() {
    qpdf_set_suppress_warnings(data, QPDF_TRUE);
    qpdf_silence_errors(data);
  }
  Document(const Document&) = delete;
  Document& operator=(const Document&) = delete;
  ~Document() { qpdf_cleanup(&data); }
  // The text has to stand as long as the document.
  std::optional<FormatFault> read(std::string_view pdf) {
    if (qpdf_read_memory(data, "form", pdf.data(), pdf.size(), nullptr) < QPDF_ERRORS) return std::nullopt;
    return FormatFault{
        "", std::string("is not a readable PDF: ") + qpdf_get_error_message_detail(data, qpdf_get_error(data))};
  }
};

// In the encoding of the form's font, as a PDF string; what it does not have is a question mark.
std::string pdf_literal(std::string_view utf8) {
  std::string out = "(";
  for (std::size_t i = 0; i < utf8.size(); ++i) {
    const auto c = static_cast<unsigned char>(utf8[i]);
    if (c < 0x80) {
      if (c == '(' || c == ')' || c == '\\') out += '\\';
      out += c < 0x20 ? ' ' : static_cast<char>(c);
    } else if ((c & 0xFE) == 0xC2 && i + 1 < utf8.size()) {  // U+0080 to U+00FF stand where Latin-1 has them
      out += static_cast<char>((c & 3) << 6 | (static_cast<unsigned char>(utf8[++i]) & 0x3F));
    } else {
      out += '?';
      while (i + 1 < utf8.size() && (static_cast<unsigned char>(utf8[i + 1]) & 0xC0) == 0x80) ++i;
    }
  }
  return out + ")";
}

}  // namespace

tl::expected<std::string, FormatFault> pdf_with_cells(std::string_view pdf, const Sheet& sheet,
                                                      const std::vector<FormCell>& cells) {
  Document d;
  if (const auto fault = d.read(pdf)) return tl::unexpected(*fault);
  const int pages = qpdf_get_num_pages(d.data);
  const auto font = qpdf_make_indirect_object(
      d.data,
      qpdf_oh_parse(d.data, "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>"));
  const auto form = qpdf_oh_parse(d.data, "<< /Fields [] /DA (/Helv 8 Tf 0 g) /DR << /Font << >> >> >>");
  qpdf_oh_replace_key(d.data, qpdf_oh_get_key(d.data, qpdf_oh_get_key(d.data, form, "/DR"), "/Font"), "/Helv", font);
  const auto fields = qpdf_oh_get_key(d.data, form, "/Fields");
  std::vector<std::pair<qpdf_oh, double>> sheets_of_paper;  // annotations and height
  for (int i = 0; i < pages; ++i) {
    const auto page = qpdf_get_page_n(d.data, static_cast<std::size_t>(i));
    const auto box = qpdf_oh_get_key(d.data, page, "/MediaBox");
    qpdf_oh_replace_key(d.data, page, "/Annots", qpdf_oh_parse(d.data, "[]"));
    sheets_of_paper.emplace_back(qpdf_oh_get_key(d.data, page, "/Annots"),
                                 qpdf_oh_get_numeric_value(d.data, qpdf_oh_get_array_item(d.data, box, 3)));
  }
  for (const FormCell& cell : cells) {
    const bool stated = cell.line < sheet.lines.size() && cell.column < sheet.lines[cell.line].size();
    const std::string text = stated ? sheet.lines[cell.line][cell.column] : std::string();
    const auto [annotations, height] = sheets_of_paper[static_cast<std::size_t>(cell.page)];
    const double bottom = height - cell.y - cell.height;
    // /F 4: printed; 2: unseen.
    const auto field = qpdf_make_indirect_object(
        d.data,
        qpdf_oh_parse(d.data, fmt::format("<< /Type /Annot /Subtype /Widget /FT /Tx /T (L{}C{}) /F {} /DA (/Helv 8 "
                                          "Tf 0 g) /Rect [{:.2f} {:.2f} {:.2f} {:.2f}] >>",
                                          cell.line, cell.column, cell.seen ? 4 : 2, cell.x, bottom,
                                          cell.x + cell.width, bottom + cell.height)
                                  .c_str()));
    if (!text.empty()) {
      const auto value = qpdf_oh_new_unicode_string(d.data, text.c_str());
      qpdf_oh_replace_key(d.data, field, "/V", value);
      qpdf_oh_release(d.data, value);
    }
    if (cell.seen) {
      const std::string look =
          text.empty() ? std::string("/Tx BMC EMC")
                       : fmt::format("/Tx BMC q 1 1 {:.2f} {:.2f} re W n BT /Helv 8 Tf 0 g 2 {:.2f} Td {} Tj ET Q EMC",
                                     cell.width - 2, cell.height - 2, (cell.height - 5.8) / 2, pdf_literal(text));
      const auto stream = qpdf_oh_new_stream(d.data);
      qpdf_oh_replace_stream_data(d.data, stream, reinterpret_cast<const unsigned char*>(look.data()), look.size(),
                                  qpdf_oh_new_null(d.data), qpdf_oh_new_null(d.data));
      const auto dictionary = qpdf_oh_get_dict(d.data, stream);
      qpdf_oh_replace_key(d.data, dictionary, "/Type", qpdf_oh_parse(d.data, "/XObject"));
      qpdf_oh_replace_key(d.data, dictionary, "/Subtype", qpdf_oh_parse(d.data, "/Form"));
      qpdf_oh_replace_key(d.data, dictionary, "/BBox",
                          qpdf_oh_parse(d.data, fmt::format("[0 0 {:.2f} {:.2f}]", cell.width, cell.height).c_str()));
      qpdf_oh_replace_key(d.data, dictionary, "/Resources", qpdf_oh_get_key(d.data, form, "/DR"));
      const auto appearance = qpdf_oh_parse(d.data, "<< >>");
      qpdf_oh_replace_key(d.data, appearance, "/N", stream);
      qpdf_oh_replace_key(d.data, field, "/AP", appearance);
    }
    qpdf_oh_append_item(d.data, annotations, field);
    qpdf_oh_append_item(d.data, fields, field);
  }
  qpdf_oh_replace_key(d.data, qpdf_get_root(d.data), "/AcroForm", qpdf_make_indirect_object(d.data, form));
  if (qpdf_init_write_memory(d.data) >= QPDF_ERRORS || qpdf_write(d.data) >= QPDF_ERRORS)
    return tl::unexpected(FormatFault{
        "", std::string("the form cannot be made: ") + qpdf_get_error_message_detail(d.data, qpdf_get_error(d.data))});
  return std::string(reinterpret_cast<const char*>(qpdf_get_buffer(d.data)), qpdf_get_buffer_length(d.data));
}

namespace {

// "L12C3"; nothing where it is no cell of ours.
std::optional<std::pair<std::size_t, std::size_t>> place_named(std::string_view name) {
  std::size_t numbers[2] = {};
  for (int i = 0; i < 2; ++i) {
    if (name.empty() || name.front() != "LC"[i]) return std::nullopt;
    name.remove_prefix(1);
    std::size_t digits = 0;
    while (digits < name.size() && digits < 7 && name[digits] >= '0' && name[digits] <= '9')
      numbers[i] = 10 * numbers[i] + static_cast<std::size_t>(name[digits++] - '0');
    if (digits == 0) return std::nullopt;
    name.remove_prefix(digits);
  }
  if (!name.empty() || numbers[0] >= most_lines || numbers[1] >= most_columns) return std::nullopt;
  return std::pair(numbers[0], numbers[1]);
}

// Streams are unpacked by the library as it needs them, to any size: what they would take is counted first. A stream
// within a stream is counted as well.
bool unpacks_to_more(std::string_view text, std::size_t& left, int depth = 0) {
  std::string unpacked(depth == 0 ? 1u << 16 : 1u << 14, '\0');
  const auto inflate_at = [&](std::string_view packed) {
    z_stream z{};
    if (inflateInit(&z) != Z_OK) return false;
    z.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(packed.data()));
    z.avail_in = static_cast<uInt>(packed.size());
    std::string inner;  // the start of what comes out: packed once more it begins as such
    int state = Z_OK;
    while (state == Z_OK) {
      z.next_out = reinterpret_cast<Bytef*>(unpacked.data());
      z.avail_out = static_cast<uInt>(unpacked.size());
      state = inflate(&z, Z_NO_FLUSH);
      const std::size_t got = unpacked.size() - z.avail_out;
      if (got == 0 && state == Z_OK) break;
      if (got > left) {
        inflateEnd(&z);
        return true;
      }
      left -= got;
      if (depth < 3 && inner.size() < most_bytes) inner.append(unpacked, 0, got);
    }
    inflateEnd(&z);
    return depth < 3 && inner.size() > 2 && inner[0] == '\x78' && unpacks_to_more(inner, left, depth + 1);
  };
  if (depth > 0) return inflate_at(text);
  for (std::size_t at = text.find("stream"); at != std::string_view::npos; at = text.find("stream", at + 6)) {
    std::size_t from = at + 6;
    while (from < text.size() && (text[from] == '\r' || text[from] == '\n')) ++from;
    if (from + 2 < text.size() && (text[from] & 0x0f) == 8 && inflate_at(text.substr(from))) return true;
  }
  return false;
}

// Of the streams that the library unpacks by itself, those of objects and of cross references, any that are packed
// otherwise than by Flate: their size cannot be counted beforehand. Names can be written with escapes, which nobody
// needs there.
bool packed_otherwise(std::string_view text) {
  const auto count = [](std::string_view in, std::string_view what) {
    std::size_t found = 0;
    for (std::size_t at = in.find(what); at != std::string_view::npos; at = in.find(what, at + what.size())) ++found;
    return found;
  };
  constexpr std::size_t longest_dictionary = 4096;
  static constexpr std::string_view short_filters[] = {"/LZW", "/RL", "/A85", "/AHx"};
  for (std::size_t at = text.find("stream"); at != std::string_view::npos; at = text.find("stream", at + 6)) {
    std::string_view before = text.substr(at > longest_dictionary ? at - longest_dictionary : 0);
    before = before.substr(0, std::min(at, longest_dictionary));
    if (before.ends_with("end")) continue;  // of a stream
    if (const std::size_t object = before.rfind("obj"); object != std::string_view::npos) before.remove_prefix(object);
    const bool escaped = before.find('#') != std::string_view::npos;
    const bool unpacked_unasked =
        before.find("ObjStm") != std::string_view::npos || before.find("XRef") != std::string_view::npos;
    if (before.find("Filter") == std::string_view::npos && !escaped) continue;
    const std::size_t flate = count(before, "/FlateDecode");
    const bool short_names =
        std::any_of(std::begin(short_filters), std::end(short_filters),
                    [&](std::string_view name) { return before.find(name) != std::string_view::npos; });
    if ((unpacked_unasked || escaped) && (flate == 0 || flate != count(before, "Decode") || short_names)) return true;
    if (escaped && unpacked_unasked) return true;
  }
  return false;
}

void read_fields(const Document& d, qpdf_oh list, int depth, int& count, std::size_t& cells, Sheet& sheet) {
  if (depth > deepest || !qpdf_oh_is_array(d.data, list)) return;
  const int size = qpdf_oh_get_array_n_items(d.data, list);
  for (int i = 0; i < size && ++count < most_fields; ++i) {
    const auto field = qpdf_oh_get_array_item(d.data, list, i);
    if (qpdf_oh_is_dictionary(d.data, field)) {
      const auto name = qpdf_oh_get_key(d.data, field, "/T"), value = qpdf_oh_get_key(d.data, field, "/V");
      const auto place =
          qpdf_oh_is_string(d.data, name) ? place_named(qpdf_oh_get_utf8_value(d.data, name)) : std::nullopt;
      if (place && qpdf_oh_is_string(d.data, value)) {
        if (sheet.lines.size() <= place->first) sheet.lines.resize(place->first + 1);
        std::vector<std::string>& line = sheet.lines[place->first];
        if (line.size() <= place->second) {
          cells += place->second + 1 - line.size();
          if (cells > most_cells) return;
          line.resize(place->second + 1);
        }
        line[place->second] = qpdf_oh_get_utf8_value(d.data, value);
      }
      read_fields(d, qpdf_oh_get_key(d.data, field, "/Kids"), depth + 1, count, cells, sheet);
    }
    qpdf_oh_release(d.data, field);
  }
}

}  // namespace

tl::expected<Sheet, FormatFault> read_pdf_form(std::string_view pdf) {
  if (pdf.size() > most_bytes) return tl::unexpected(FormatFault{"", "is larger than 32 MB"});
  if (packed_otherwise(pdf))
    return tl::unexpected(FormatFault{"", "is compressed in a way that is not read; save it again in a PDF viewer"});
  std::size_t left = most_unpacked_bytes;
  if (unpacks_to_more(pdf, left)) return tl::unexpected(FormatFault{"", "unpacks to more than 256 MB"});
  Document d;
  if (const auto fault = d.read(pdf)) return tl::unexpected(*fault);
  Sheet sheet;
  int count = 0;
  std::size_t cells = 0;
  const auto root = qpdf_get_root(d.data);
  const auto form =
      qpdf_oh_is_dictionary(d.data, root) ? qpdf_oh_get_key(d.data, root, "/AcroForm") : qpdf_oh_new_null(d.data);
  if (qpdf_oh_is_dictionary(d.data, form))
    read_fields(d, qpdf_oh_get_key(d.data, form, "/Fields"), 0, count, cells, sheet);
  if (cells > most_cells) return tl::unexpected(FormatFault{"", fmt::format("has more than {} cells", most_cells)});
  if (sheet.lines.empty())
    return tl::unexpected(FormatFault{"",
                                      "has no stock-taking form fields; a printed and scanned sheet, or one saved "
                                      "without its fields, cannot be read"});
  return sheet;
}

}  // namespace pecorra::module
