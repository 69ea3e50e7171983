#include "core/iso/modal_state.h"

#include <cmath>

namespace pecorra {

void ModalState::apply(const ProgramText& program, std::size_t block) {
  bool changes = false;
  for (const ProgramPiece& piece : program.pieces(block)) {
    if (piece.kind != PieceKind::word) continue;
    const char letter = piece.letter;
    if (letter != 'G' && letter != 'F' && letter != 'S' && letter != 'M' && letter != 'T') continue;
    const auto value = program.number(piece);
    if (letter == 'S' || letter == 'F') {
      (letter == 'S' ? s : f) = value;
      continue;
    }
    constexpr double most = 1e8;  // no code, no cutter
    if (!value || !(std::abs(*value) < most)) continue;
    const int code = static_cast<int>(std::lround(*value * 10));  // G54.1 is 541
    if (letter == 'T') waiting_t = static_cast<int>(*value);
    if (letter == 'M') {
      switch (code / 10) {
        case 2:
        case 30: ended = true; break;
        case 3:
        case 4:
        case 5: spindle = code / 10; break;
        case 6: changes = true; break;
        case 7:
        case 8: coolant = true; break;
        case 9: coolant = false; break;
        default: break;
      }
    }
    if (letter != 'G' || code % 10 != 0) continue;
    switch (const int g = code / 10) {
      case 0:
      case 1:
      case 2:
      case 3: motion = g, cycle = 0; break;
      case 17: plane = Plane::xy; break;
      case 18: plane = Plane::zx; break;
      case 19: plane = Plane::yz; break;
      case 20: inch = true; break;
      case 21: inch = false; break;
      case 40:
      case 41:
      case 42: compensation = g; break;
      case 54:
      case 55:
      case 56:
      case 57:
      case 58:
      case 59: work_offset = g; break;
      case 80: cycle = 0; break;
      case 90: absolute = true; break;
      case 91: absolute = false; break;
      case 93: feed_mode = FeedMode::inverse_time; break;
      case 94: feed_mode = FeedMode::per_minute; break;
      case 95: feed_mode = FeedMode::per_turn; break;
      case 96: constant_surface_speed = true; break;
      case 97: constant_surface_speed = false; break;
      case 98: returns_low = false; break;
      case 99: returns_low = true; break;
      default:
        if (g == 73 || g == 74 || g == 76 || (g >= 81 && g <= 89)) cycle = g;
    }
  }
  if (changes) t = waiting_t;
}

}  // namespace pecorra
