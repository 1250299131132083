#include "core/slosh/settled.h"

namespace uadze::slosh {

tank::Plane SettledTank::surface(const Vec3& f, double volume) {
  const double strength = f.norm();
  if (strength > weightless) normal_ = -f / strength;
  cutter_.aim(normal_);
  const tank::PlaneSolve solve =
      last_offset_ ? cutter_.offset_for(volume, *last_offset_) : cutter_.offset_for(volume);
  last_offset_ = solve.offset;
  return {normal_, solve.offset};
}

}  // namespace uadze::slosh
