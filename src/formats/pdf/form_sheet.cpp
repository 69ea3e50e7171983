#include "formats/pdf/form_sheet.h"

#include <fmt/format.h>
#include <qpdf/qpdf-c.h>
#include <optional>

#include "formats/late_library.h"

namespace pecorra {
namespace {

constexpr std::size_t most_bytes = 32u << 20;
constexpr int most_fields = 200000, deepest = 8;
constexpr std::size_t most_lines = 100000, most_columns = 500;

// The library's functions, looked up when they are first wanted: a program that is started does not wait for them.
struct Qpdf {
  decltype(&qpdf_init) init;
  decltype(&qpdf_cleanup) cleanup;
  decltype(&qpdf_set_suppress_warnings) set_quiet;
  decltype(&qpdf_silence_errors) silence_errors;
  decltype(&qpdf_read_memory) read_memory;
  decltype(&qpdf_get_error) get_error;
  decltype(&qpdf_get_error_message_detail) error_text;
  decltype(&qpdf_get_root) root;
  decltype(&qpdf_get_num_pages) page_count;
  decltype(&qpdf_get_page_n) page;
  decltype(&qpdf_make_indirect_object) make_indirect;
  decltype(&qpdf_oh_parse) parse;
  decltype(&qpdf_oh_get_key) key;
  decltype(&qpdf_oh_replace_key) set_key;
  decltype(&qpdf_oh_is_array) is_array;
  decltype(&qpdf_oh_is_dictionary) is_dictionary;
  decltype(&qpdf_oh_is_string) is_string;
  decltype(&qpdf_oh_is_number) is_number;
  decltype(&qpdf_oh_get_numeric_value) number;
  decltype(&qpdf_oh_get_array_n_items) size;
  decltype(&qpdf_oh_get_array_item) item;
  decltype(&qpdf_oh_append_item) append;
  decltype(&qpdf_oh_get_utf8_value) text;
  decltype(&qpdf_oh_new_unicode_string) new_text;
  decltype(&qpdf_oh_new_stream) new_stream;
  decltype(&qpdf_oh_replace_stream_data) set_stream;
  decltype(&qpdf_oh_get_dict) dictionary;
  decltype(&qpdf_oh_new_null) new_null;
  decltype(&qpdf_oh_release) release;
  decltype(&qpdf_init_write_memory) write_memory;
  decltype(&qpdf_write) write;
  decltype(&qpdf_get_buffer) buffer;
  decltype(&qpdf_get_buffer_length) buffer_size;
};

const Qpdf* qpdf() {
  static const std::optional<Qpdf> found = []() -> std::optional<Qpdf> {
    LateLibrary library("libqpdf.so.29");
    Qpdf q{};
    library.take(q.init, "qpdf_init");
    library.take(q.cleanup, "qpdf_cleanup");
    library.take(q.set_quiet, "qpdf_set_suppress_warnings");
    library.take(q.silence_errors, "qpdf_silence_errors");
    library.take(q.read_memory, "qpdf_read_memory");
    library.take(q.get_error, "qpdf_get_error");
    library.take(q.error_text, "qpdf_get_error_message_detail");
    library.take(q.root, "qpdf_get_root");
    library.take(q.page_count, "qpdf_get_num_pages");
    library.take(q.page, "qpdf_get_page_n");
    library.take(q.make_indirect, "qpdf_make_indirect_object");
    library.take(q.parse, "qpdf_oh_parse");
    library.take(q.key, "qpdf_oh_get_key");
    library.take(q.set_key, "qpdf_oh_replace_key");
    library.take(q.is_array, "qpdf_oh_is_array");
    library.take(q.is_dictionary, "qpdf_oh_is_dictionary");
    library.take(q.is_string, "qpdf_oh_is_string");
    library.take(q.is_number, "qpdf_oh_is_number");
    library.take(q.number, "qpdf_oh_get_numeric_value");
    library.take(q.size, "qpdf_oh_get_array_n_items");
    library.take(q.item, "qpdf_oh_get_array_item");
    library.take(q.append, "qpdf_oh_append_item");
    library.take(q.text, "qpdf_oh_get_utf8_value");
    library.take(q.new_text, "qpdf_oh_new_unicode_string");
    library.take(q.new_stream, "qpdf_oh_new_stream");
    library.take(q.set_stream, "qpdf_oh_replace_stream_data");
    library.take(q.dictionary, "qpdf_oh_get_dict");
    library.take(q.new_null, "qpdf_oh_new_null");
    library.take(q.release, "qpdf_oh_release");
    library.take(q.write_memory, "qpdf_init_write_memory");
    library.take(q.write, "qpdf_write");
    library.take(q.buffer, "qpdf_get_buffer");
    library.take(q.buffer_size, "qpdf_get_buffer_length");
    return library.is_whole() ? std::optional(q) : std::nullopt;
  }();
  return found ? &*found : nullptr;
}

struct Document {
  const Qpdf& q;
  qpdf_data data;
  explicit Document(const Qpdf& functions) : q(functions), data(functions.init()) {
    q.set_quiet(data, QPDF_TRUE);
    q.silence_errors(data);
  }
  Document(const Document&) = delete;
  Document& operator=(const Document&) = delete;
  ~Document() { q.cleanup(&data); }
  // The text has to stand as long as the document.
  std::optional<FormatFault> read(std::string_view pdf) {
    if (q.read_memory(data, "form", pdf.data(), pdf.size(), nullptr) < QPDF_ERRORS) return std::nullopt;
    return FormatFault{"", std::string("is no PDF that can be read: ") + q.error_text(data, q.get_error(data))};
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

FormatFault no_library() { return {"", "cannot be used: the library libqpdf is not there"}; }

}  // namespace

tl::expected<std::string, FormatFault> pdf_with_cells(std::string_view pdf, const Sheet& sheet,
                                                      const std::vector<FormCell>& cells) {
  const Qpdf* q = qpdf();
  if (!q) return tl::unexpected(no_library());
  Document d(*q);
  if (const auto fault = d.read(pdf)) return tl::unexpected(*fault);
  const int pages = q->page_count(d.data);
  const auto font = q->make_indirect(
      d.data, q->parse(d.data, "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>"));
  const auto form = q->parse(d.data, "<< /Fields [] /DA (/Helv 8 Tf 0 g) /DR << /Font << >> >> >>");
  q->set_key(d.data, q->key(d.data, q->key(d.data, form, "/DR"), "/Font"), "/Helv", font);
  const auto fields = q->key(d.data, form, "/Fields");
  std::vector<std::pair<qpdf_oh, double>> sheets_of_paper;  // annotations and height
  for (int i = 0; i < pages; ++i) {
    const auto page = q->page(d.data, static_cast<std::size_t>(i));
    const auto box = q->key(d.data, page, "/MediaBox");
    q->set_key(d.data, page, "/Annots", q->parse(d.data, "[]"));
    sheets_of_paper.emplace_back(q->key(d.data, page, "/Annots"), q->number(d.data, q->item(d.data, box, 3)));
  }
  for (const FormCell& cell : cells) {
    const bool stated = cell.line < sheet.lines.size() && cell.column < sheet.lines[cell.line].size();
    const std::string text = stated ? sheet.lines[cell.line][cell.column] : std::string();
    const auto [annotations, height] = sheets_of_paper[static_cast<std::size_t>(cell.page)];
    const double bottom = height - cell.y - cell.height;
    // /F 4: printed; 2: unseen.
    const auto field = q->make_indirect(
        d.data, q->parse(d.data, fmt::format("<< /Type /Annot /Subtype /Widget /FT /Tx /T (L{}C{}) /F {} /DA (/Helv 8 "
                                             "Tf 0 g) /Rect [{:.2f} {:.2f} {:.2f} {:.2f}] >>",
                                             cell.line, cell.column, cell.seen ? 4 : 2, cell.x, bottom,
                                             cell.x + cell.width, bottom + cell.height)
                                     .c_str()));
    if (!text.empty()) {
      const auto value = q->new_text(d.data, text.c_str());
      q->set_key(d.data, field, "/V", value);
      q->release(d.data, value);
    }
    if (cell.seen) {
      const std::string look =
          text.empty() ? std::string("/Tx BMC EMC")
                       : fmt::format("/Tx BMC q 1 1 {:.2f} {:.2f} re W n BT /Helv 8 Tf 0 g 2 {:.2f} Td {} Tj ET Q EMC",
                                     cell.width - 2, cell.height - 2, (cell.height - 5.8) / 2, pdf_literal(text));
      const auto stream = q->new_stream(d.data);
      q->set_stream(d.data, stream, reinterpret_cast<const unsigned char*>(look.data()), look.size(),
                    q->new_null(d.data), q->new_null(d.data));
      const auto dictionary = q->dictionary(d.data, stream);
      q->set_key(d.data, dictionary, "/Type", q->parse(d.data, "/XObject"));
      q->set_key(d.data, dictionary, "/Subtype", q->parse(d.data, "/Form"));
      q->set_key(d.data, dictionary, "/BBox",
                 q->parse(d.data, fmt::format("[0 0 {:.2f} {:.2f}]", cell.width, cell.height).c_str()));
      q->set_key(d.data, dictionary, "/Resources", q->key(d.data, form, "/DR"));
      const auto appearance = q->parse(d.data, "<< >>");
      q->set_key(d.data, appearance, "/N", stream);
      q->set_key(d.data, field, "/AP", appearance);
    }
    q->append(d.data, annotations, field);
    q->append(d.data, fields, field);
  }
  q->set_key(d.data, q->root(d.data), "/AcroForm", q->make_indirect(d.data, form));
  if (q->write_memory(d.data) >= QPDF_ERRORS || q->write(d.data) >= QPDF_ERRORS)
    return tl::unexpected(
        FormatFault{"", std::string("the form cannot be made: ") + q->error_text(d.data, q->get_error(d.data))});
  return std::string(reinterpret_cast<const char*>(q->buffer(d.data)), q->buffer_size(d.data));
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

void read_fields(const Document& d, qpdf_oh list, int depth, int& count, Sheet& sheet) {
  const Qpdf& q = d.q;
  if (depth > deepest || !q.is_array(d.data, list)) return;
  const int size = q.size(d.data, list);
  for (int i = 0; i < size && ++count < most_fields; ++i) {
    const auto field = q.item(d.data, list, i);
    if (q.is_dictionary(d.data, field)) {
      const auto name = q.key(d.data, field, "/T"), value = q.key(d.data, field, "/V");
      const auto place = q.is_string(d.data, name) ? place_named(q.text(d.data, name)) : std::nullopt;
      if (place && q.is_string(d.data, value)) {
        if (sheet.lines.size() <= place->first) sheet.lines.resize(place->first + 1);
        std::vector<std::string>& line = sheet.lines[place->first];
        if (line.size() <= place->second) line.resize(place->second + 1);
        line[place->second] = q.text(d.data, value);
      }
      read_fields(d, q.key(d.data, field, "/Kids"), depth + 1, count, sheet);
    }
    q.release(d.data, field);
  }
}

}  // namespace

tl::expected<Sheet, FormatFault> read_pdf_form(std::string_view pdf) {
  const Qpdf* q = qpdf();
  if (!q) return tl::unexpected(no_library());
  if (pdf.size() > most_bytes) return tl::unexpected(FormatFault{"", "is larger than 32 MB"});
  Document d(*q);
  if (const auto fault = d.read(pdf)) return tl::unexpected(*fault);
  Sheet sheet;
  int count = 0;
  const auto root = q->root(d.data);
  const auto form = q->is_dictionary(d.data, root) ? q->key(d.data, root, "/AcroForm") : q->new_null(d.data);
  if (q->is_dictionary(d.data, form)) read_fields(d, q->key(d.data, form, "/Fields"), 0, count, sheet);
  if (sheet.lines.empty())
    return tl::unexpected(FormatFault{"",
                                      "has no fields of a stock-taking sheet; a sheet that was printed and scanned, or "
                                      "saved without its fields, cannot be read"});
  return sheet;
}

}  // namespace pecorra
