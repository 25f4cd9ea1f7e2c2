# Checks a large folder of themes in parts, as many at a time as `make -j` allows, and merges the reports into one.
#   make -f check-shards.mk -j4 PARTS=4 THEMES=themes
# Each part can as well run on a machine of its own: copy its file back before the merge.
THEMES ?= .
PARTS ?= 4
OUT ?= check-report
FORMAT ?= json

parts := $(foreach part,$(shell seq $(PARTS)),$(OUT)/part-$(part).json)

$(OUT)/whole.$(FORMAT): $(parts)
	pionero report merge $(parts) --format $(FORMAT) > $@

# Findings in a part are no reason to stop the others: the merge says by its exit status whether there are errors.
$(OUT)/part-%.json: FORCE | $(OUT)
	pionero check $(THEMES) --shard $*/$(PARTS) --format json > $@ || test $$? -eq 1

$(OUT):
	mkdir -p $@

FORCE:
