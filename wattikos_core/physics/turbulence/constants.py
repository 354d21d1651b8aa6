"""Constants of the k-ω shear stress transport model: Menter, Kuntz and Langtry (2003, Turbulence, Heat and Mass Transfer 4, 625).

Pairs are of the inner and the outer set, between which the model blends.
"""

from __future__ import annotations

# Names of k and g among the scalars.
ENERGY, LENGTH = "turbulence_energy", "turbulence_root"
# Name of the share of time in which layers are turbulent, where it is modelled.
INTERMITTENCY = "intermittency"
BETA_STAR = 0.09
A1 = 0.31
ALPHA = (5.0 / 9.0, 0.44)
BETA = (0.075, 0.0828)
SIGMA_K = (0.85, 1.0)
SIGMA_OMEGA = (0.5, 0.856)
# Production of k is no more than so many times what is dissipated.
MOST_PRODUCTION = 10.0
# Turbulent Prandtl number far from walls and its rise near them: 0.85 + 0.7/Pe_t, Kays (1994, J. Heat Transfer 116, 284).
PRANDTL_FAR, PRANDTL_NEAR = 0.85, 0.7
