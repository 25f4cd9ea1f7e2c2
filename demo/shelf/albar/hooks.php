<?php
/**
 * What Albar adds to the host.
 *
 * @package albar
 * @author  Albar Hut League
 */

const ALBAR_VERSION = '2.3.0';
const ALBAR_MENUS = ['main' => 'Main menu', 'huts' => 'Huts'];

/** Registers what the theme offers. */
function albar_setup(): void {
    host_menus('albar', ALBAR_MENUS);
    host_strings('albar', __DIR__ . '/strings');
    host_on('head', 'albar_head');
    host_on('assets', 'albar_assets');
    host_on('excerpt', 'albar_excerpt_length');
}

/** Prints the colour of the browser's frame. */
function albar_head(): void {
    echo '<meta name="theme-color" content="' . albar_color('night') . '">' . "\n";
}

/** Loads the script on every page but the front page, which brings its own. */
function albar_assets(): void {
    if (!albar_is_front()) {
        host_script('albar', 'scripts/albar.js', ALBAR_VERSION);
    }
    host_editor_sheet('styles/editor.css');
}

function albar_is_front(): bool {
    return host_role() === 'front';
}

/** Words in an excerpt. */
function albar_excerpt_length(int $words): int {
    return min($words, 32);
}

/** The colours that the options page of Albar offers. */
function albar_colors(): array {
    return ['night' => '#10293a', 'dusk' => '#2f5d73', 'ember' => '#f2a03d'];
}

function albar_color(string $name): string {
    $albar_colors = albar_colors();
    return $albar_colors[$name] ?? '#000000';
}

/** Beds that are free tonight, as the warden wrote them down. */
function albar_free_beds(string $hut): int {
    return (int) host_option("albar_beds_$hut", 0);
}

function albar_hut_line(string $hut): string {
    $beds = albar_free_beds($hut);
    return sprintf(host_text('albar', '%d beds free'), $beds);
}

function albar_weather(): string {
    return (new AlbarWeather('neveron'))->line();
}

/** Adds the class that the stylesheet looks for. */
function albar_body_class(array $classes): array {
    $classes[] = 'albar-page';
    $classes[] = 'albar-page--' . host_role();
    return $classes;
}

function albar_menu(string $menu): string {
    return host_menu("albar/$menu", ['class' => 'albar-nav']);
}

/** The weather at a hut, kept for an hour. */
final class AlbarWeather {
    private string $key;

    public function __construct(private string $hut) {
        $this->key = "albar.weather.{$hut}";
    }

    public function line(): string {
        return host_cached($this->key, 3600, fn () => host_text('albar', 'Dry until the evening'));
    }
}

albar_setup();
