"""Photographs of a plane as plain data: how each fits its marks, and places of what is traced."""

from __future__ import annotations

import math
from typing import Any

from stoutlink.core.advice.picture_rules import fit_words
from stoutlink.core.mechanics.photo_plane import PlaneRefused, camera_of
from stoutlink.core.study.study import Study


def picture_results(study: Study) -> list[dict[str, Any]]:
    """One entry a photo; what cannot be had is ``null`` with the reason's word."""
    out = []
    for one in study.project.tape.photos:
        found = study.picture(one.id)
        assert found is not None
        fit = found.fit
        eye = None
        if fit is not None:
            try:
                eye = camera_of(fit, one.focal_mm)
            except PlaneRefused:
                eye = None
        miss = {} if fit is None else {m.id: (r, w) for m, r, w in zip(found.marks, fit.residual, fit.w, strict=True)}
        out.append(
            {
                "id": one.id,
                "name": one.name,
                "view": one.view,
                "depth_m": one.depth_m,
                "why": found.why,
                "said": fit_words(found),
                "spare": None if fit is None else fit.spare,
                "misses_by": None if fit is None else fit.unit_sigma,
                "lens_terms": None if fit is None else fit.lens,
                "k1": None if fit is None else float(fit.theta[8]),
                "k2": None if fit is None else float(fit.theta[9]),
                "camera_off_m": None if eye is None else abs(eye.at[2]),
                "camera_off_sigma_m": None if eye is None else eye.sigma[2],
                "marks": [
                    {
                        "id": m.id,
                        "name": m.name,
                        "miss_px": None if m.id not in miss else [float(v) for v in miss[m.id][0]],
                        "w": None if m.id not in miss or math.isnan(miss[m.id][1]) else float(miss[m.id][1]),
                    }
                    for m in one.marks
                ],
                "traced": [
                    {
                        "id": p.traced.id,
                        "name": p.traced.name,
                        "kind": p.traced.kind,
                        "why": p.why,
                        "across_m": p.across,
                        "across_sigma_m": p.across_sigma,
                        "places": None
                        if p.why is not None
                        else [
                            {"at_m": list(q.at), "sigma_m": list(q.sigma), "beyond_marks": q.beyond} for q in p.places
                        ],
                    }
                    for p in study.traced(one.id)
                ],
            }
        )
    return out
