// Posts, pages, terms and pictures of the platform, from what a test wrote as JSON.
require_once ABSPATH . 'wp-admin/includes/taxonomy.php';
$told = json_decode(file_get_contents(SEED), true);
wp_delete_post(1, true);
wp_delete_post(2, true);
foreach ($told['posts'] as $post) {
    $id = wp_insert_post([
        'post_type' => $post['type'], 'post_status' => 'publish', 'post_title' => $post['title'],
        'post_name' => $post['name'], 'post_content' => $post['content'], 'post_date' => $post['date'],
        'post_category' => $post['category'] ? [wp_create_category($post['category'])] : [],
    ], true);
    if (is_wp_error($id)) { echo $id->get_error_message(), "\n"; exit(1); }
}
echo wp_count_posts()->publish;
