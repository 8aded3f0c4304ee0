from sub import sub
sub("tests/core/test_bigger.py",('''    project, plan, figures = demo()
    rule = next(
        (v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.criterion.kind == "flood_volume"
    )
    found =''','''    project, plan, figures = demo()
    rule = next(
        (v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.criterion.kind == "flood_volume"
    )
    project.brief.rules[rule[0]].limits[rule[1]].value = 5.5  # m3: one larger pipe may do
    plan = make_plan(project)
    found ='''))
