"""What a report says of the way from rain to runoff is what is computed."""

from madidus.core.surface.runoff import Coefficient, Runoff


def test_coefficients_of_the_method_itself_are_told_before_those_of_the_project():
    method = Coefficient(summer_paved=0.9)
    assert "paved 0.9 in summer, 0.84 in winter" in method.in_words(Runoff(method=method))
    assert "paved 0.75 in summer" in Coefficient().in_words(Runoff())
